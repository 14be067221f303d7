package kadrem.core.examine;

import java.util.Set;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;

/**
 * What is looked at of runs.
 *
  * @param withoutCalls names of calls that are left out
 * @param withoutKinds kinds of failure that are left out, as if those calls had not been made
 * @param from first second that counts, from the start of the warm-up
 * @param to second before which it ends; what lies outside is left out of the figures
 */
public record Selection(Set<String> withoutCalls, Set<FailureKind> withoutKinds, int from, int to) {
    /** All calls, the whole measured part. */
    public static final Selection ALL = new Selection(Set.of(), Set.of(), 0, Integer.MAX_VALUE);

    public Selection {
        withoutCalls = Set.copyOf(withoutCalls);
        withoutKinds = Set.copyOf(withoutKinds);
        if (from < 0 || to <= from) {
            throw new IllegalArgumentException("no second lies from " + from + " to before " + to);
        }
    }

    public boolean has(String call) {
        return !withoutCalls.contains(call);
    }

    public boolean has(int second) {
        return second >= from && second < to;
    }

    /** Whether an exchange that was kept is looked at. */
    public boolean has(Exchange exchange) {
        return has(exchange.call()) && has((int) Math.floor(Math.max(0, exchange.dueSeconds())))
                && withoutKinds.stream().noneMatch(kind -> kind.id().equals(exchange.reason()));
    }

    /** Whether nothing is left out. */
    public boolean isAll() {
        return isWholeTime() && withoutCalls.isEmpty() && withoutKinds.isEmpty();
    }

    public boolean isWholeTime() {
        return from == 0 && to == Integer.MAX_VALUE;
    }

    public Selection between(int first, int before) {
        return new Selection(withoutCalls, withoutKinds, first, before);
    }

    public Selection without(Set<String> calls) {
        return new Selection(calls, withoutKinds, from, to);
    }

    public Selection withoutKinds(Set<FailureKind> kinds) {
        return new Selection(withoutCalls, kinds, from, to);
    }
}
