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
 * Statistics 30, 2002). Over items the levels go by Holm's steps (Holm 1979): all get the significance divided by their number; an item
 * of which it is said that it lies beyond its margin, or on one side of its requirement, needs no more, and the others share what there
 * is. That holds since the farther the truth lies out, so that this is likely to be said, the less likely is that anything false is (Shaffer:
 * Control of directional errors with stagewise multiple test procedures, Annals of Statistics 8, 1980; Finner, Annals of Statistics 27,
 * 1999). It does not hold of "no difference that matters", which is likely to be said where better or worse are as likely to be said falsely as
 * anywhere: such an item keeps its part. With it handed on, 10 % of made-up studies of four metrics said something false.
 */
final class Family {
    /** Something of which statements are made. */
    interface Item {
        /** Whether the interval at a level lies beyond what is asked, so that the item hands its part on. */
        boolean isBeyond(double level);
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
            more = left.removeIf(i -> items.get(i).isBeyond(level)) && !left.isEmpty();
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
