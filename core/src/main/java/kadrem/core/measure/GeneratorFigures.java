package kadrem.core.measure;

import java.util.List;
import java.util.OptionalDouble;

/**
 * What making the load cost Kadrem itself, and how it was made.
 *
 * @param lanes event-loop threads
 * @param cpuShare processor time of the lanes in the measured part as a share of its length, of all lanes together; waiting awake is
 *            among it
 * @param workShare time that the lanes spent in turns in which something was sent or read, in the same way; empty for a run from before
 * @param gcPauses pauses of the collector from the start of the warm-up to the end
 * @param pacing how lanes waited, and on which processors, in words; empty for a run from before that was told
 * @param longTurns turns of the lanes in the measured part that took longer than a millisecond, by cause
 */
public record GeneratorFigures(int lanes, OptionalDouble cpuShare, OptionalDouble workShare, LatencySummary gcPauses,
        String pacing,
        List<LongTurns.Of> longTurns) {
}
