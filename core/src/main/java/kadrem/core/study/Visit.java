package kadrem.core.study;

import java.util.List;

/** An ordered list of calls that one simulated user makes; {@code share} is its weight in the mix. */
public record Visit(String name, double share, List<Call> calls) {
    public Visit {
        calls = List.copyOf(calls);
    }
}
