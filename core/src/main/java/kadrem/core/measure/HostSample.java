package kadrem.core.measure;

/**
 * Resource figures at one instant of a run.
 *
 * @param at seconds after the start of the warm-up
 * @param hostCpuShare busy share of all processors since the sample before, 0 to 1
 * @param hostStealShare share of the processors' time since the sample before that the machine below took away
 * @param hostMemoryUsed bytes in use on the host
 * @param candidateCpuMillis CPU time of the candidate's process tree so far; -1 where it is not known
 * @param candidateMemory resident bytes of that tree; -1 where it is not known
 * @param candidateProcesses processes in that tree
 * @param kadremCpuMillis CPU time of Kadrem's own process so far
 * @param kadremMemory resident bytes of Kadrem's own process
 * @param laneCpuMillis CPU time of the lanes' threads so far
 * @param userCpuMillis CPU time so far of the threads that carry users who wait on virtual threads
 * @param gcMillis time that Kadrem's collector took so far
 * @param processors number of processors of the host
 */
public record HostSample(double at, double hostCpuShare, double hostStealShare, long hostMemoryUsed,
        long candidateCpuMillis,
        long candidateMemory, int candidateProcesses, long kadremCpuMillis, long kadremMemory, long laneCpuMillis,
        long userCpuMillis, long gcMillis, int processors) {
    /** The same sample on a clock that began {@code seconds} earlier. */
    public HostSample later(double seconds) {
        return new HostSample(at + seconds, hostCpuShare, hostStealShare, hostMemoryUsed, candidateCpuMillis,
                candidateMemory, candidateProcesses, kadremCpuMillis, kadremMemory, laneCpuMillis, userCpuMillis,
                gcMillis,
                processors);
    }
}
