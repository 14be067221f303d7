package kadrem.core.scaling;

/**
 * The operational laws of queueing, which hold for any system in balance. Source: Jain, The Art of Computer Systems
 * Performance Analysis, 1991, chapter 33; Little 1961 for L = λ W. Times are in seconds.
 */
public final class Laws {
    private Laws() {
    }

    /** Little's law L = λ W: how many are inside on average. */
    public static double underWay(double arrivalsPerSecond, double seconds) {
        return arrivalsPerSecond * seconds;
    }

    /**
     * The interactive response-time law R = N/X − Z, solved for X and summed over time: how often {@code userSeconds} of
     * users come round.
     *
     * @param responseSeconds R, time until an answer
     * @param thinkSeconds Z, pause after it
     */
    public static double completions(double userSeconds, double responseSeconds, double thinkSeconds) {
        return userSeconds / (responseSeconds + thinkSeconds);
    }

    /** The asymptotic bound N / Z: the throughput of users who pause, were every answer there at once. */
    public static double mostThroughput(double users, double thinkSeconds) {
        return users / thinkSeconds;
    }

    /**
     * The utilisation law U = X S, solved for the service demand S: how long one call keeps a resource busy.
     *
     * @param busy U, mean number of units of the resource that are in use for the calls
     */
    public static double serviceDemand(double busy, double throughput) {
        return busy / throughput;
    }

    /** The throughput at which a resource of {@code units} has none left, by the utilisation law. */
    public static double saturation(double units, double demandSeconds) {
        return units / demandSeconds;
    }
}
