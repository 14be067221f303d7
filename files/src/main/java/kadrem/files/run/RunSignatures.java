package kadrem.files.run;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

import kadrem.core.examine.RunView;
import kadrem.core.examine.Selection;
import kadrem.core.examine.Signature;
import kadrem.core.examine.Signatures;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.RunRecord;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;

/** The signatures of a run on record. */
public final class RunSignatures {
    private RunSignatures() {
    }

    /**
     * Looks for them; takes as long as reading the run.
     *
     * @param runFolder where the run was recorded
     * @param rehearsal of the study, where there is one
     * @return none of a candidate that the study does not have any more, and of a run that was never measured
     */
    public static List<Signature> of(MeasuredStudy study, Path runFolder, RunRecord run, Optional<Rehearsal> rehearsal)
            throws IOException {
        return run.figures().isEmpty()
                ? List.of()
                : of(study, run, RunReader.view(runFolder, Selection.ALL), RunReader.exchanges(runFolder), rehearsal);
    }

    /**
     * The same of a run that was read.
     *
     * @param view the whole of it
     */
    public static List<Signature> of(MeasuredStudy study, RunRecord run, RunView view, List<Exchange> exchanges,
            Optional<Rehearsal> rehearsal) {
        Optional<Candidate> candidate = study.candidate(run.candidate());
        if (candidate.isEmpty() || run.figures().isEmpty()) {
            return List.of();
        }
        return Signatures.ofRun(view, exchanges, candidate.get(), study,
                rehearsal.stream().flatMap(made -> made.candidates().stream())
                        .filter(one -> one.candidate().equals(run.candidate())).findFirst());
    }
}
