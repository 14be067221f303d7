package kadrem.core.stats;

import java.util.SplittableRandom;

/**
 * Courses that wander as a given one does and have nothing else to do with it: the same waves, each moved by a random phase, so that mean,
 * scatter and autocorrelation stay (Ebisuzaki, Journal of Climate 10, 1997). A long course is cut into stretches, each with
 * phases of its own; what is slower than a stretch stays as it is.
 */
final class RandomPhases {
    private final double[] values;
    private final int stretch;
    /** Mean of each value's stretch. */
    private final double[] means;
    /** Height of each wave, by stretch and number of turns. */
    private final double[][] heights;

    /** @param stretch most values whose phases are drawn together */
    RandomPhases(double[] values, int stretch) {
        this.values = values.clone();
        this.stretch = stretch;
        means = new double[values.length];
        heights = new double[(values.length + stretch - 1) / stretch][];
        for (int i = 0; i < heights.length; i++) {
            int from = i * stretch;
            heights[i] = waves(from, Math.min(stretch, values.length - from));
        }
    }

    private double[] waves(int from, int n) {
        double mean = 0;
        for (int t = 0; t < n; t++) {
            mean += values[from + t] / n;
        }
        for (int t = 0; t < n; t++) {
            means[from + t] = mean;
        }
        var found = new double[n / 2 + 1];
        for (int k = 1; k <= n / 2; k++) {
            double cosine = 0;
            double sine = 0;
            for (int t = 0; t < n; t++) {
                double angle = 2 * Math.PI * k * t / n;
                cosine += (values[from + t] - mean) * Math.cos(angle);
                sine += (values[from + t] - mean) * Math.sin(angle);
            }
            // the fastest wave of an even number of values has no partner
            found[k] = Math.hypot(cosine, sine) * (2 * k == n ? 1 : 2) / n;
        }
        return found;
    }

    /** One more such course. */
    double[] next(SplittableRandom random) {
        double[] made = means.clone();
        for (int i = 0; i < heights.length; i++) {
            int from = i * stretch;
            int n = Math.min(stretch, values.length - from);
            for (int k = 1; k <= n / 2; k++) {
                add(made, from, n, k, heights[i][k], random.nextDouble());
            }
        }
        return made;
    }

    /** Adds a wave, each value from the two before it: cos(a + d) = 2 cos(d) cos(a) - cos(a - d). */
    private static void add(double[] made, int from, int n, int wave, double height, double turn) {
        double step = 2 * Math.PI * wave / n;
        double phase = 2 * Math.PI * turn;
        // a wave without a partner keeps its scatter with a phase of its own only by this factor
        double most = 2 * wave == n ? height * Math.sqrt(2) : height;
        double before = most * Math.cos(phase - step);
        double now = most * Math.cos(phase);
        double twice = 2 * Math.cos(step);
        for (int t = 0; t < n; t++) {
            made[from + t] += now;
            double after = twice * now - before;
            before = now;
            now = after;
        }
    }
}
