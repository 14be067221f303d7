package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Holds all that may be said in one study together, so that the chance that anything of it is false is at most the significance.
 * <p>
 * Each item, a pair on a deciding metric or a requirement of a candidate, has one interval, and all that is said of it is read from
 * that interval: better, worse, by more than the margin, that no difference matters, met, missed. While the interval holds the truth none of
 * them is false, so that one level covers them all (partitioning: Finner, Strassburger: The partitioning principle, Annals of
 * Statistics 30, 2002). Over items the levels go by Holm's steps: all get the significance divided by their number; an item of
 * which the strongest is said needs no more, and the others share what there is (Holm 1979).
 */
final class Family {
    /** Something of which statements are made. */
    interface Item {
        /** Whether the interval at a level says the strongest that can be said, so that none narrower would say more. */
        boolean isFinal(double level);
    }

    private Family() {
    }

    /** The level of each item: its interval has confidence one less that. */
    static double[] levels(double significance, List<? extends Item> items) {
        var levels = new double[items.size()];
        List<Integer> left = new ArrayList<>();
        for (int i = 0; i < items.size(); i++) {
            left.add(i);
        }
        boolean more = !left.isEmpty();
        while (more) {
            double level = significance / left.size();
            left.forEach(i -> levels[i] = level);
            more = left.removeIf(i -> items.get(i).isFinal(level)) && !left.isEmpty();
        }
        return levels;
    }

    /** The level that items get of which nothing is known: the first step. */
    static double first(double significance, int items) {
        return significance / Math.max(1, items);
    }

    /** Number of items among which the significance was shared at the step of an item. */
    static int shared(double significance, double level) {
        return Math.toIntExact(Math.round(significance / level));
    }

    /** Equal levels for hints, which no family covers. */
    static double[] even(double significance, int items) {
        var levels = new double[items];
        Arrays.fill(levels, first(significance, items));
        return levels;
    }
}
