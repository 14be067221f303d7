package kadrem.core.check;

import java.util.HashSet;
import java.util.stream.Collectors;

import kadrem.core.study.Candidate;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;

/** The question against the candidates. */
final class QuestionCheck {
    private QuestionCheck() {
    }

    static void check(Study study, Findings findings) {
        Question question = study.question();
        String ids = study.candidates().stream().map(Candidate::id).collect(Collectors.joining(", "));
        if (study.candidate(question.baseline()).isEmpty()) {
            findings.error("question.baseline",
                    "is \"" + question.baseline() + "\", which is not the id of a candidate",
                    "Use one of: " + ids + ".");
        }
        var seen = new HashSet<Metric>();
        for (int i = 0; i < question.deciders().size(); i++) {
            Question.Decider decider = question.deciders().get(i);
            if (!seen.add(decider.metric())) {
                findings.error("question.decide[" + i + "].metric",
                        "names " + decider.metric().id() + " a second time", "Remove one of the two.");
            }
        }
        for (int i = 0; i < question.deciders().size(); i++) {
            part(study, "question.decide[" + i + "].of", question.deciders().get(i).metric(), findings);
        }
        for (int i = 0; i < question.requirements().size(); i++) {
            part(study, "question.require[" + i + "].of", question.requirements().get(i).metric(), findings);
        }
        question.factors().forEach(factor -> factor.scores().keySet().stream()
                .filter(id -> study.candidate(id).isEmpty())
                .forEach(id -> findings.warning("question.judge",
                        "judges \"" + id + "\", which is not the id of a candidate", "Use one of: " + ids + ".")));
    }

    private static void part(Study study, String path, Metric metric, Findings findings) {
        if (!metric.of().isEmpty() && !study.parts().contains(metric.of())) {
            findings.error(path, "is \"" + metric.of() + "\", which is no crowd and no call of the study",
                    study.parts().isEmpty()
                            ? "Remove it."
                            : "Use one of: " + String.join(", ", study.parts()) + ".");
        }
    }
}
