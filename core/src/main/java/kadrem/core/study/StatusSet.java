package kadrem.core.study;

import java.util.List;
import java.util.stream.Collectors;

/** The response statuses with which a call counts as good; empty means any 2xx. */
public record StatusSet(List<Range> ranges) {
    public static final StatusSet ANY_SUCCESS = new StatusSet(List.of());

    public StatusSet {
        ranges = List.copyOf(ranges);
    }

    /** Statuses from one to another, both included. */
    public record Range(int from, int to) {
        @Override
        public String toString() {
            return from == to ? String.valueOf(from) : from + "-" + to;
        }
    }

    public static StatusSet of(int... statuses) {
        return new StatusSet(java.util.Arrays.stream(statuses).mapToObj(one -> new Range(one, one)).toList());
    }

    public boolean contains(int status) {
        if (ranges.isEmpty()) {
            return status >= 200 && status < 300;
        }
        for (int i = 0; i < ranges.size(); i++) {
            if (status >= ranges.get(i).from() && status <= ranges.get(i).to()) {
                return true;
            }
        }
        return false;
    }

    @Override
    public String toString() {
        return ranges.isEmpty() ? "2xx" : ranges.stream().map(Range::toString).collect(Collectors.joining(" or "));
    }
}
