package kadrem.core.study;

import java.util.List;
import java.util.Map;

/**
 * Something that counts in the decision and cannot be measured, such as operation or licence. Each candidate is judged on the
 * same scale of five steps, with a reason.
 *
 * @param name what is judged
 * @param weight its share of the decision, beside those of the deciding metrics
 * @param scores by candidate
 */
public record Factor(String name, double weight, Map<String, Score> scores) {
    /** The words of the scale, from 1 to 5. */
    public static final List<String> SCALE = List.of("a lasting burden", "a burden", "neither burden nor help",
            "a help",
            "a lasting help");
    /** Factors that are often judged. Common practice, no source. */
    public static final List<String> USUAL = List.of("development effort", "operation", "licence", "ecosystem");

    public Factor {
        scores = Map.copyOf(scores);
    }

    /**
     * What one candidate was judged to be.
     *
     * @param step 1 to 5, of {@link Factor#SCALE}
     */
    public record Score(int step, String reason) {
        public String words() {
            return SCALE.get(Math.clamp(step, 1, SCALE.size()) - 1);
        }
    }
}
