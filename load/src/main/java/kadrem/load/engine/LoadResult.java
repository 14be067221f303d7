package kadrem.load.engine;

import kadrem.core.plan.StreamDigest;

/**
 * How a load run ended.
 *
 * @param intended arrivals due in the measured part; 0 in the closed model
 * @param begun those of them that were begun
 * @param stopped whether it was stopped before its end
 */
public record LoadResult(StreamDigest stream, long intended, long begun, boolean stopped) {
}
