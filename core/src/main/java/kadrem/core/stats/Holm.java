package kadrem.core.stats;

import java.util.Arrays;

/**
 * Holm's step-down adjustment, which keeps the probability of any false "settled" in a family at the level asked for.
 * Source: Holm: A simple sequentially rejective multiple test procedure, Scandinavian Journal of Statistics 6, 1979.
 */
public final class Holm {
    private Holm() {
    }

    /** Adjusted p-values in the order of {@code p}. */
    public static double[] adjust(double... p) {
        Integer[] order = new Integer[p.length];
        Arrays.setAll(order, i -> i);
        Arrays.sort(order, (a, b) -> Double.compare(p[a], p[b]));
        var adjusted = new double[p.length];
        double largest = 0;
        for (int i = 0; i < p.length; i++) {
            largest = Math.max(largest, Math.min(1, (p.length - i) * p[order[i]]));
            adjusted[order[i]] = largest;
        }
        return adjusted;
    }
}
