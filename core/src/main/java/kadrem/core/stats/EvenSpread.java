package kadrem.core.stats;

import java.util.Arrays;

/**
 * The exact test that things fell on k places by chance alone, each as likely as the other: the probability, under even chances, of all
 * counts that are no more likely than those seen (exact multinomial test). With two places it is the binomial test at one half.
 * <p>
 * Counts that differ only in their order are as likely, so that the partitions of the total are gone through instead of all counts.
 * Source: Cochran: The χ² test of goodness of fit, Annals of Mathematical Statistics 23, 1952, section on exact tests.
 */
public final class EvenSpread {
    /** Beyond so many things more partitions would be gone through than is worth it; the counts are then scaled down. */
    private static final int MAX = 60;
    private static final int MAX_ON_FEW = 600;
    private static final int FEW = 3;
    private static final double SAME = 1 + 1e-7;

    private final int places;
    private final double seen;
    private double sum;

    private EvenSpread(int places, double seen) {
        this.places = places;
        this.seen = seen;
    }

    /**
     * The probability of counts at least as uneven.
     *
     * @throws IllegalArgumentException if there is no place or a count is negative
     */
    public static double p(int... counts) {
        if (counts.length == 0 || Arrays.stream(counts).anyMatch(count -> count < 0)) {
            throw new IllegalArgumentException("counts of one place or more are needed, none negative");
        }
        int total = Arrays.stream(counts).sum();
        int most = counts.length <= FEW ? MAX_ON_FEW : MAX;
        if (total > most) {
            double scale = (double) most / total;
            return p(Arrays.stream(counts).map(count -> (int) Math.floor(count * scale)).toArray());
        }
        int[] sorted = Arrays.stream(counts).sorted().toArray();
        var test = new EvenSpread(counts.length, logOf(sorted, total, counts.length));
        test.partitions(new int[counts.length], 0, total, total);
        return Math.min(1, test.sum);
    }

    /** The logarithm of the probability of counts, in this order. */
    private static double logOf(int[] counts, int total, int places) {
        double log = factorial(total) - total * Math.log(places);
        for (int count : counts) {
            log -= factorial(count);
        }
        return log;
    }

    private static double factorial(int n) {
        double log = 0;
        for (int i = 2; i <= n; i++) {
            log += Math.log(i);
        }
        return log;
    }

    private void partitions(int[] parts, int at, int left, int most) {
        if (at == places) {
            if (left == 0) {
                int total = Arrays.stream(parts).sum();
                double log = logOf(parts, total, places);
                if (log <= seen + Math.log(SAME)) {
                    sum += Math.exp(log + Math.log(orders(parts)));
                }
            }
            return;
        }
        for (int part = Math.min(left, most); part >= 0 && (long) part * (places - at) >= left; part--) {
            parts[at] = part;
            partitions(parts, at + 1, left - part, part);
        }
    }

    /** Orders in which these parts, of which equal ones stand side by side, can be laid on the places. */
    private static double orders(int[] parts) {
        double log = factorial(parts.length);
        for (int i = 0; i < parts.length;) {
            int same = i;
            while (same < parts.length && parts[same] == parts[i]) {
                same++;
            }
            log -= factorial(same - i);
            i = same;
        }
        return Math.exp(log);
    }
}
