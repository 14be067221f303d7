package kadrem.work;

import java.nio.file.Path;
import java.util.Optional;

import kadrem.core.verdict.Planning;
import kadrem.files.study.StudyFile;

/** What is to be measured. */
public sealed interface Order {
    /** Fewer rounds give no interval, and so no noise floor. */
    int MIN_FLOOR_ROUNDS = Planning.MIN_ROUNDS;

    /** The study from which it is made. */
    StudyFile file();

    /**
     * The study.
     *
     * @param rounds empty for what its plan asks for
     */
    record OfStudy(StudyFile file, Optional<Rounds> rounds) implements Order {
    }

    /** The study's plan once more: on another day, after another start of the system, or on another host. */
    record Again(StudyFile file) implements Order {
    }

    /** A candidate against itself, in no fewer than {@link #MIN_FLOOR_ROUNDS} rounds. */
    record Floor(StudyFile file, String candidate, Rounds rounds) implements Order {
    }

    /**
     * Two versions of a candidate, beside each other.
     *
     * @param rounds empty for those of the study's plan
     * @param kept whether they are added to the study's history
     */
    record Versions(StudyFile file, String candidate, Pair pair, Optional<Integer> rounds, boolean kept)
            implements
            Order {
    }

    /** What is the earlier version, and what the later one. */
    sealed interface Pair {
    }

    /**
     * Two commits.
     *
     * @param repository a folder of the repository; the one in which the candidate is launched if empty
     * @param build shell command that builds a commit; empty where nothing is to be built
     */
    record Commits(String before, String after, Optional<Path> repository, Optional<String> build) implements Pair {
    }

    /** Two launch commands. */
    record Commands(String before, String after) implements Pair {
    }
}
