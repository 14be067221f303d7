package kadrem.core.study;

import java.util.List;

/**
 * An ordered list of calls that one simulated user makes.
 *
 * @param share weight in the mix
 * @param repeat how many times the calls are made in one visit, at least 1
 */
public record Visit(String name, double share, int repeat, List<Call> calls) {
    public Visit {
        calls = List.copyOf(calls);
    }

    public Visit(String name, double share, List<Call> calls) {
        this(name, share, 1, calls);
    }
}
