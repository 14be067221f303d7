package kadrem.core.measure;

import java.util.Arrays;

import kadrem.core.stats.MannKendall;
import kadrem.core.stats.Mser5;

/**
 * The mean response time and the calls under way over a run, by intervals of a second, which grow where a run is long, so
 * that the size stays. One thread.
 */
public final class SteadyState {
    private static final int MAX = 600;
    /** Relative difference between first and later seconds that is one at all. */
    private static final double MATERIAL = 0.10;
    /** Standard errors beyond which a difference is not by chance. */
    private static final double STANDARD_ERRORS = 3;
    private static final double TREND_P = 0.01;
    /** Fewest intervals of the measured part for a trend to be looked for. */
    private static final int MIN = 10;

    private final int warmUpSeconds;
    private final double[] sums = new double[MAX];
    private final double[] counts = new double[MAX];
    private int length;
    private int width = 1;

    SteadyState(int warmUpSeconds) {
        this.warmUpSeconds = warmUpSeconds;
    }

    /** Adds a second: the sum and number of its response times. */
    void add(int second, double sum, double count) {
        while (second / width >= MAX) {
            coarsen();
        }
        int at = second / width;
        sums[at] += sum;
        counts[at] += count;
        length = Math.max(length, at + 1);
    }

    private void coarsen() {
        for (int i = 0; i < MAX / 2; i++) {
            sums[i] = sums[2 * i] + sums[2 * i + 1];
            counts[i] = counts[2 * i] + counts[2 * i + 1];
        }
        Arrays.fill(sums, MAX / 2, MAX, 0);
        Arrays.fill(counts, MAX / 2, MAX, 0);
        width *= 2;
        length = (length + 1) / 2;
    }

    /** Means of the intervals; one without a value has that of the interval before. */
    private double[] means(int from) {
        var means = new double[Math.max(0, length - from)];
        double before = 0;
        for (int i = 0; i < means.length; i++) {
            before = counts[from + i] > 0 ? sums[from + i] / counts[from + i] : before;
            means[i] = before;
        }
        return means;
    }

    private int warmUpIntervals() {
        return (warmUpSeconds + width - 1) / width;
    }

    /**
     * Second from which response times are steady: where MSER-5 cuts, if what lies between the warm-up and there differs
     * from the rest by more than a tenth and not by chance; else the end of the warm-up or before.
     */
    double settledAfter() {
        double[] means = means(0);
        int cut = Mser5.truncation(means);
        int warm = warmUpIntervals();
        if (cut <= warm) {
            return (double) cut * width;
        }
        double early = mean(means, warm, cut);
        double late = mean(means, cut, means.length);
        double spread = Math.sqrt(variance(means, cut, means.length, late)
                * (1.0 / (cut - warm) + 1.0 / (means.length - cut)));
        boolean differs = Math.abs(early - late) > MATERIAL * late && Math.abs(early - late) > STANDARD_ERRORS * spread;
        return differs ? (double) cut * width : warmUpSeconds;
    }

    /** Change over the measured part as a share of its median, by the Theil-Sen slope, below 0 where they fall; 0 where there is no trend. */
    double drift() {
        double[] means = means(warmUpIntervals());
        if (means.length < MIN) {
            return 0;
        }
        MannKendall.Result trend = MannKendall.of(means);
        double[] sorted = means.clone();
        Arrays.sort(sorted);
        double median = sorted[sorted.length / 2];
        return trend.p() > TREND_P || median <= 0 ? 0 : trend.slope() * means.length / median;
    }

    private static double mean(double[] values, int from, int to) {
        return Arrays.stream(values, from, to).average().orElse(0);
    }

    private static double variance(double[] values, int from, int to, double mean) {
        return Arrays.stream(values, from, to).map(value -> (value - mean) * (value - mean)).sum()
                / Math.max(1, to - from - 1);
    }
}
