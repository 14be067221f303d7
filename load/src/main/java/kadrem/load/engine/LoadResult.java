package kadrem.load.engine;

import java.util.OptionalDouble;

import kadrem.core.plan.StreamDigest;

/**
 * How a load run ended.
 *
 * @param intended visits due in the measured part by the load; 0 where users begin them as they are answered
 * @param begun those of them that were begun
 * @param stopped whether it was stopped before its end
 * @param measuredSeconds length of the measured part where it ended early, since a number of visits was made
 * @param lost seconds and exchanges that were made and could not be kept
 */
public record LoadResult(StreamDigest stream, long intended, long begun, boolean stopped,
        OptionalDouble measuredSeconds, long lost) {
    /** With what was lost on the way as well. */
    public LoadResult plusLost(long more) {
        return new LoadResult(stream, intended, begun, stopped, measuredSeconds, lost + more);
    }
}
