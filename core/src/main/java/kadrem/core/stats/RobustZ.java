package kadrem.core.stats;

import java.util.Arrays;

/**
 * How far a value stands from a reference sample: the modified z-score M = 0.6745 (x − x̃) / MAD, by median and median
 * absolute deviation, of which |M| > 3.5 is called an outlier. Where more than half of the reference is one value, MAD is 0
 * and the mean absolute deviation takes its place, as M = (x − x̃) / (1.2533 MeanAD); where all of it is one value, one per
 * cent of the larger of the two does. Source: Iglewicz and Hoaglin: How to Detect and Handle Outliers, 1993, pages 11 and 12;
 * the last rule is Kadrem's own.
 */
public final class RobustZ {
    /** |M| beyond which Iglewicz and Hoaglin call a value an outlier. */
    public static final double OUTLIER = 3.5;
    private static final double NORMAL_QUARTILE = 0.6745;
    private static final double MEAN_DEVIATION = 1.253314;
    private static final double MIN_SHARE = 0.01;

    private final double median;
    private final double mad;
    private final double meanDeviation;

    private RobustZ(double median, double mad, double meanDeviation) {
        this.median = median;
        this.mad = mad;
        this.meanDeviation = meanDeviation;
    }

    /** @throws IllegalArgumentException if the reference is empty */
    public static RobustZ of(double... reference) {
        double median = median(reference);
        double[] deviations = Arrays.stream(reference).map(value -> Math.abs(value - median)).toArray();
        return new RobustZ(median, median(deviations), Arrays.stream(deviations).average().orElse(0));
    }

    /** The median; of an even number the mean of the two in the middle. */
    public static double median(double... values) {
        if (values.length == 0) {
            throw new IllegalArgumentException("there is no median of nothing");
        }
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        int half = sorted.length / 2;
        return sorted.length % 2 == 1 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2;
    }

    /** The median of the reference. */
    public double median() {
        return median;
    }

    /** The score of {@code value}; 0 for the median itself. */
    public double score(double value) {
        double distance = value - median;
        if (distance == 0) {
            return 0;
        }
        if (mad > 0) {
            return NORMAL_QUARTILE * distance / mad;
        }
        return meanDeviation > 0
                ? distance / (MEAN_DEVIATION * meanDeviation)
                : distance / (MIN_SHARE * Math.max(Math.abs(value), Math.abs(median)));
    }
}
