package kadrem.core.stats;

import java.util.Arrays;

/**
 * The n(n+1)/2 means (d_i + d_j) / 2, i ≤ j, of differences, in ascending order. Their median is the Hodges–Lehmann
 * estimate of the centre. Source: Hollander, Wolfe: Nonparametric Statistical Methods, 1973, section 3.2.
 */
final class WalshAverages {
    private final double[] ascending;

    WalshAverages(double[] d) {
        ascending = new double[d.length * (d.length + 1) / 2];
        int k = 0;
        for (int i = 0; i < d.length; i++) {
            for (int j = i; j < d.length; j++) {
                ascending[k++] = d[i] / 2 + d[j] / 2;
            }
        }
        Arrays.sort(ascending);
    }

    int count() {
        return ascending.length;
    }

    /** The k-th smallest, from 0. */
    double at(int k) {
        return ascending[k];
    }

    /** How many are no larger. */
    int atMost(double value) {
        int count = below(value);
        while (count < ascending.length && ascending[count] == value) {
            count++;
        }
        return count;
    }

    /** How many are smaller. */
    int below(double value) {
        int found = Arrays.binarySearch(ascending, value);
        int count = found < 0 ? -found - 1 : found;
        while (count > 0 && ascending[count - 1] >= value) {
            count--;
        }
        return count;
    }

    double median() {
        int m = ascending.length;
        return m % 2 == 1 ? ascending[m / 2] : (ascending[m / 2 - 1] + ascending[m / 2]) / 2;
    }
}
