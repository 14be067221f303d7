package kadrem.core.measure;

import java.util.List;
import java.util.Optional;

/**
 * What one level of a ladder or a ceiling search gave.
 *
 * @param level users or arrivals a second
 * @param fromSecond second of the run in which its warm-up began
 * @param figures figures of the level's measured part; empty where the candidate did not live to its end
 * @param verdict what the level showed, such as "meets the requirements", or how the candidate died
 */
public record LevelResult(double level, int fromSecond, Optional<RunFigures> figures, List<Soundness.Finding> soundness,
        Step step, String verdict) {
    public LevelResult {
        soundness = List.copyOf(soundness);
    }

    /** What follows from a level. */
    public enum Step {
        /** The search goes on upwards. */
        PASSED("passed"),
        /** Throughput grew less than it should have. */
        FLAT("flat"),
        /** A requirement or a stop rule was broken. */
        BROKEN("broken"),
        /** The candidate died. */
        DIED("died"),
        /** The run was unsound at this level, so that it says nothing about the candidate. */
        UNSOUND("unsound");

        private final String id;

        Step(String id) {
            this.id = id;
        }

        /** The word used in files. */
        public String id() {
            return id;
        }

        public static Step byId(String id) {
            for (Step step : values()) {
                if (step.id.equals(id)) {
                    return step;
                }
            }
            throw new IllegalArgumentException("no step is called " + id);
        }
    }

    public boolean isSound() {
        return soundness.stream().noneMatch(Soundness.Finding::disturbs);
    }
}
