package kadrem.core.study;

import java.util.List;
import java.util.stream.Collectors;

/** The response statuses with which a call counts as good; empty means any 2xx. */
public record StatusSet(List<Integer> statuses) {
    public static final StatusSet ANY_SUCCESS = new StatusSet(List.of());

    public StatusSet {
        statuses = List.copyOf(statuses);
    }

    public boolean contains(int status) {
        return statuses.isEmpty() ? status >= 200 && status < 300 : statuses.contains(status);
    }

    @Override
    public String toString() {
        return statuses.isEmpty() ? "2xx" : statuses.stream().map(String::valueOf).collect(Collectors.joining(" or "));
    }
}
