package kadrem.load.engine;

import java.util.List;
import java.util.Map;

import kadrem.core.study.Judgement;
import kadrem.core.study.SoundnessRule;
import org.junit.jupiter.api.Assumptions;

/** What a test does that needs a quiet machine and has none. */
public final class Quiet {
    private Quiet() {
    }

    /** For studies of which the course is tested and not the figures: the generator shares its processors with other tests. */
    public static Judgement notAskedFor() {
        return new Judgement(Map.of(SoundnessRule.LATE, 100.0, SoundnessRule.CLOCK_STEPS, 60_000.0), List.of());
    }

    /** Leaves the test out, but in a build for a release (-Dkadrem.release), where it fails. */
    public static <T> T given(String why) {
        if (System.getProperty("kadrem.release") != null) {
            throw new AssertionError("a build for a release leaves nothing out: " + why);
        }
        return Assumptions.abort(why);
    }
}
