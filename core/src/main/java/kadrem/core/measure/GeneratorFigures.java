package kadrem.core.measure;

import java.util.OptionalDouble;

/**
 * What making the load cost Kadrem itself.
 *
 * @param lanes event-loop threads
 * @param cpuShare processor time of the lanes in the measured part as a share of its length, of all lanes together
 * @param gcPauses pauses of the collector from the start of the warm-up to the end
 */
public record GeneratorFigures(int lanes, OptionalDouble cpuShare, LatencySummary gcPauses) {
}
