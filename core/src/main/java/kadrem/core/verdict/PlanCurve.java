package kadrem.core.verdict;

import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * What numbers of rounds can show, worked out once since it is simulated.
 *
 * @param smallest the smallest difference that is settled four times in five, by the number of rounds, on the scale of the differences
 * @param roundsForMargin as {@link Planning#roundsForMargin()}
 */
public record PlanCurve(Planning plan, SortedMap<Integer, Double> smallest, OptionalInt roundsForMargin) {
    /** For 1 to {@code most} rounds. */
    public static PlanCurve of(Planning plan, int most) {
        var smallest = new TreeMap<Integer, Double>();
        for (int rounds = plan.fewest(); rounds <= most; rounds++) {
            OptionalDouble size = plan.settles(rounds);
            if (size.isPresent()) {
                smallest.put(rounds, size.getAsDouble());
            }
        }
        return new PlanCurve(plan, smallest, plan.roundsForMargin());
    }

    /** Empty where so many rounds settle nothing. */
    public OptionalDouble settles(int rounds) {
        Double size = smallest.get(rounds);
        return size == null ? OptionalDouble.empty() : OptionalDouble.of(size);
    }
}
