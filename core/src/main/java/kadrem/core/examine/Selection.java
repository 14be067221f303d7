package kadrem.core.examine;

import java.util.Set;

/**
 * What is looked at of runs.
 *
 * @param withoutCalls names of calls that are left out
 * @param from first second that counts, from the start of the warm-up
 * @param to second before which it ends; what lies outside is left out of the figures
 */
public record Selection(Set<String> withoutCalls, int from, int to) {
    /** All calls, the whole measured part. */
    public static final Selection ALL = new Selection(Set.of(), 0, Integer.MAX_VALUE);

    public Selection {
        withoutCalls = Set.copyOf(withoutCalls);
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

    public boolean isWholeTime() {
        return from == 0 && to == Integer.MAX_VALUE;
    }

    public Selection between(int first, int before) {
        return new Selection(withoutCalls, first, before);
    }

    public Selection without(Set<String> calls) {
        return new Selection(calls, from, to);
    }
}
