package kadrem.files.run;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

import kadrem.core.examine.Selection;
import kadrem.core.examine.Signature;
import kadrem.core.examine.Signatures;
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
        Optional<Candidate> candidate = study.candidate(run.candidate());
        if (candidate.isEmpty() || run.figures().isEmpty()) {
            return List.of();
        }
        return Signatures.ofRun(RunReader.view(runFolder, Selection.ALL), RunReader.exchanges(runFolder),
                candidate.get(), study,
                rehearsal.stream().flatMap(made -> made.candidates().stream())
                        .filter(one -> one.candidate().equals(run.candidate())).findFirst());
    }
}
