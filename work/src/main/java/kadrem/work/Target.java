package kadrem.work;

import java.io.IOException;
import java.util.List;

import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Soundness;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.verdict.NoiseFloor;
import kadrem.files.run.RunFolders;

/** A study that is measured, and where its runs are kept. */
public sealed interface Target extends AutoCloseable permits Target.OfStudy, Target.OfFloor, VersionsTarget {
    MeasuredStudy study();

    RunFolders store();

    /** Rounds that count when it is measured. */
    int wanted();

    /** What follows from its runs, to be told when they are made; empty where nothing is to be added. */
    default String follows() throws IOException {
        return "";
    }

    @Override
    default void close() {
        // nothing was made for it
    }

    /** The study that was opened. */
    record OfStudy(MeasuredStudy study, RunFolders store, int wanted) implements Target {
    }

    /**
     * A candidate against itself.
     *
     * @param opened the study from whose limits the soundness of its runs is judged
     */
    record OfFloor(MeasuredStudy opened, MeasuredStudy study, RunFolders store, int wanted) implements Target {
        /** Why there is no noise floor after it was measured. */
        @Override
        public String follows() {
            List<RunRecord> runs = store.runs();
            if (NoiseFloor.of(opened, runs).isPresent()) {
                return "";
            }
            long counted = runs.stream().filter(run -> run.judgedUnder(opened.judgement()).isResult()).count();
            return "No noise floor yet: it takes " + Order.MIN_FLOOR_ROUNDS + " rounds of which both runs count; "
                    + counted + " of " + runs.size() + " runs do." + runs.stream()
                            .flatMap(run -> run.soundness().stream()).filter(Soundness.Finding::disturbs).findFirst()
                            .map(finding -> " The first that was not: " + finding.sentence() + ".").orElse("");
        }
    }
}
