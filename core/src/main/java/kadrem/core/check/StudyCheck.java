package kadrem.core.check;

import java.util.List;

import kadrem.core.study.Problem;
import kadrem.core.study.Study;

/** Checks that the parts of a study fit together; what can be seen from one field alone is in the {@link StudyGrammar}. */
public final class StudyCheck {
    private StudyCheck() {
    }

    /** All problems of {@code study}, in the order of the file. */
    public static List<Problem> check(Study study) {
        var findings = new Findings();
        QuestionCheck.check(study, findings);
        CandidateCheck.check(study, findings);
        study.measured().ifPresent(measured -> {
            WorkloadCheck.check(measured, findings);
            ProtocolCheck.check(measured, findings);
            LoadCheck.check(measured, findings);
            PlanCheck.check(measured, findings);
        });
        return findings.all();
    }
}
