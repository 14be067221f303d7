package kadrem.core.measure;

import java.util.List;
import java.util.Optional;

import kadrem.core.study.StopRule;

/** Follows the seconds of a run and tells when a stop rule has been broken for long enough. One thread. */
public final class StopWatch {
    private final List<StopRule> rules;
    private final int[] brokenFor;

    /** @param rules rules of the run */
    public StopWatch(List<StopRule> rules) {
        this.rules = List.copyOf(rules);
        brokenFor = new int[rules.size()];
    }

    /**
     * A rule that ended a run.
     *
     * @param second the second, counted from the start of the warm-up, in which it had been broken for long enough
     */
    public record Stop(StopRule rule, int second) {
        /** The reason in words. */
        public String words() {
            return rule.words() + ", at " + (second + 1) + " s";
        }
    }

    /** The rule that ends the run at this second, if one does. */
    public Optional<Stop> look(SecondSummary second) {
        for (int i = 0; i < brokenFor.length; i++) {
            brokenFor[i] = isBroken(rules.get(i), second) ? brokenFor[i] + 1 : 0;
            if (brokenFor[i] >= rules.get(i).longFor().toSeconds()) {
                return Optional.of(new Stop(rules.get(i), second.second()));
            }
        }
        return Optional.empty();
    }

    /** A second in which no call ended breaks no rule on response times; one of whose calls too many got no good answer breaks it. */
    private static boolean isBroken(StopRule rule, SecondSummary second) {
        long ended = second.good() + second.failedTotal();
        double figure = switch (rule.metric().kind()) {
            case P50 -> second.p50();
            case P95 -> second.p95();
            case P99 -> second.p99();
            case ERROR_SHARE -> ended == 0 ? 0 : (double) second.failedTotal() / ended;
            default -> 0;
        };
        return figure > rule.limit();
    }
}
