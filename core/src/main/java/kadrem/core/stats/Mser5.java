package kadrem.core.stats;

/**
 * Where the steady state of a series begins: the number of first values whose removal makes the standard error of the mean
 * of the others smallest, looked for among batch means of five and in the first half only. Source: White, Cobb, Spratt: A
 * comparison of five steady-state truncation heuristics for simulation, Winter Simulation Conference 2000 (MSER-5).
 */
public final class Mser5 {
    /** Values in a batch. */
    public static final int BATCH = 5;

    private Mser5() {
    }

    /** Number of first values to be left out, a multiple of {@link #BATCH}; 0 for fewer than two batches. */
    public static int truncation(double... values) {
        int batches = values.length / BATCH;
        var means = new double[batches];
        for (int i = 0; i < batches; i++) {
            for (int j = 0; j < BATCH; j++) {
                means[i] += values[i * BATCH + j] / BATCH;
            }
        }
        int best = 0;
        double smallest = Double.POSITIVE_INFINITY;
        // less than this is rounding
        double rounding = batches == 0 ? 0 : statistic(means, 0) * 1e-12;
        for (int left = 0; left <= batches / 2 && left < batches; left++) {
            double statistic = statistic(means, left);
            if (statistic < smallest - rounding) {
                smallest = statistic;
                best = left;
            }
        }
        return best * BATCH;
    }

    private static double statistic(double[] means, int from) {
        int kept = means.length - from;
        double mean = 0;
        for (int i = from; i < means.length; i++) {
            mean += means[i] / kept;
        }
        double squares = 0;
        for (int i = from; i < means.length; i++) {
            squares += (means[i] - mean) * (means[i] - mean);
        }
        return squares / ((double) kept * kept);
    }
}
