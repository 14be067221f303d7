package kadrem.core.study;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * How strictly the soundness of runs is judged, which unsound runs were taken into comparisons by hand, and which rounds were
 * left out of them.
 *
 * @param limits limits that differ from the usual ones
 */
public record Judgement(Map<SoundnessRule, Double> limits, List<TakenIn> takenIn, List<LeftOutRound> leftOut) {
    /** The usual limits, nothing taken in and nothing left out. */
    public static final Judgement USUAL = new Judgement(Map.of(), List.of());

    public Judgement {
        limits = Map.copyOf(limits);
        takenIn = List.copyOf(takenIn);
        leftOut = List.copyOf(leftOut);
    }

    /** A judgement that leaves no round out. */
    public Judgement(Map<SoundnessRule, Double> limits, List<TakenIn> takenIn) {
        this(limits, takenIn, List.of());
    }

    /**
     * An unsound run that enters comparisons all the same.
     *
     * @param run id of the run
     * @param reason why
     */
    public record TakenIn(String run, String reason) {
    }

    /** A round that enters no comparison, and why. */
    public record LeftOutRound(int round, String reason) {
    }

    /** Why the run was taken in; empty where it was not. */
    public Optional<String> reason(String run) {
        return takenIn.stream().filter(one -> one.run().equals(run)).map(TakenIn::reason).findFirst();
    }

    /** Why the round was left out; empty where it was not. */
    public Optional<String> whyLeftOut(int round) {
        return leftOut.stream().filter(one -> one.round() == round).map(LeftOutRound::reason).findFirst();
    }

    /** The same without a round. */
    public Judgement without(int round, String reason) {
        var rounds = new java.util.ArrayList<>(leftOut);
        rounds.removeIf(one -> one.round() == round);
        rounds.add(new LeftOutRound(round, reason));
        return new Judgement(limits, takenIn, rounds);
    }
}
