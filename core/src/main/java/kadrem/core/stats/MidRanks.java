package kadrem.core.stats;

import java.util.Arrays;
import java.util.function.DoubleUnaryOperator;

/** Ranks from 1 in which equal values share the mean of their places. */
final class MidRanks {
    private MidRanks() {
    }

    /**
     * Ranks in the order of {@code values}.
     *
     * @param key by which they are ranked
     */
    static double[] of(double[] values, DoubleUnaryOperator key) {
        double[] keys = Arrays.stream(values).map(key).toArray();
        Integer[] order = new Integer[keys.length];
        Arrays.setAll(order, i -> i);
        Arrays.sort(order, (a, b) -> Double.compare(keys[a], keys[b]));
        var ranks = new double[keys.length];
        for (int from = 0; from < keys.length;) {
            int to = from;
            while (to < keys.length && keys[order[to]] == keys[order[from]]) {
                to++;
            }
            for (int i = from; i < to; i++) {
                ranks[order[i]] = (from + 1 + to) / 2.0;
            }
            from = to;
        }
        return ranks;
    }
}
