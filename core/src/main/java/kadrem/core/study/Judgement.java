package kadrem.core.study;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * How strictly the soundness of runs is judged, and which unsound runs were taken into comparisons by hand.
 *
 * @param limits limits that differ from the usual ones
 */
public record Judgement(Map<SoundnessRule, Double> limits, List<TakenIn> takenIn) {
    /** The usual limits, and nothing taken in. */
    public static final Judgement USUAL = new Judgement(Map.of(), List.of());

    public Judgement {
        limits = Map.copyOf(limits);
        takenIn = List.copyOf(takenIn);
    }

    /**
     * An unsound run that enters comparisons all the same.
     *
     * @param run id of the run
     * @param reason why
     */
    public record TakenIn(String run, String reason) {
    }

    /** Why the run was taken in; empty where it was not. */
    public Optional<String> reason(String run) {
        return takenIn.stream().filter(one -> one.run().equals(run)).map(TakenIn::reason).findFirst();
    }
}
