package kadrem.load.engine;

import java.util.Optional;

import kadrem.load.drive.Spent;

/**
 * What making a load has cost so far.
 *
 * @param laneCpuNanos processor time of the lanes
 * @param userCpuNanos processor time of the threads under users who wait on virtual threads
 * @param collectorMillis time in which the collector stopped the process
 * @param compilerMillis time that its compilers have spent so far
 * @param programs what the programs that stand for the candidate have used, where calls start some
 */
public record GeneratorUsage(long laneCpuNanos, long userCpuNanos, long collectorMillis, long compilerMillis,
        Optional<Spent> programs) {
    /** Nothing yet. */
    public static final GeneratorUsage NONE = new GeneratorUsage(0, 0, 0, 0, Optional.empty());
}
