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
        // one zero, whatever its sign
        double[] keys = Arrays.stream(values).map(value -> key.applyAsDouble(value) + 0.0).toArray();
        double[] sorted = keys.clone();
        Arrays.sort(sorted);
        var places = new double[sorted.length];
        for (int from = 0; from < sorted.length;) {
            int to = from;
            while (to < sorted.length && sorted[to] == sorted[from]) {
                to++;
            }
            Arrays.fill(places, from, to, (from + 1 + to) / 2.0);
            from = to;
        }
        return Arrays.stream(keys).map(one -> places[Arrays.binarySearch(sorted, one)]).toArray();
    }
}
