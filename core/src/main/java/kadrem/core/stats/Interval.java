package kadrem.core.stats;

/**
 * An interval with the confidence that it really has.
 *
 * @param achievedConfidence 0 to 1; at least what was asked for
 */
public record Interval(double low, double high, double achievedConfidence) {
    public boolean contains(double value) {
        return low <= value && value <= high;
    }
}
