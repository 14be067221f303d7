package kadrem.load.engine;

import java.util.List;
import java.util.OptionalDouble;

import kadrem.core.plan.StreamDigest;

/**
 * How a load run ended.
 *
 * @param crowds what came of each crowd's visits
 * @param stopped whether it was stopped before its end
 * @param measuredSeconds length of the measured part where it ended early, since a number of visits was made
 * @param lost seconds and exchanges that were made and could not be kept
 */
public record LoadResult(StreamDigest stream, List<Begun> crowds, boolean stopped,
        OptionalDouble measuredSeconds, long lost) {
    public LoadResult {
        crowds = List.copyOf(crowds);
    }

    /**
     * Visits of a crowd.
     *
     * @param crowd its name; empty where there are no crowds
     * @param intended due in the measured part by the load; 0 where users begin them as they are answered
     * @param begun those of them that were begun
     */
    public record Begun(String crowd, long intended, long begun) {
    }

    /** Visits of all crowds that were due in the measured part by the load. */
    public long intended() {
        return crowds.stream().mapToLong(Begun::intended).sum();
    }

    /** Those of them that were begun. */
    public long begun() {
        return crowds.stream().mapToLong(Begun::begun).sum();
    }

    /** With what was lost on the way as well. */
    public LoadResult plusLost(long more) {
        return new LoadResult(stream, crowds, stopped, measuredSeconds, lost + more);
    }
}
