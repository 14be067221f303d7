package kadrem.core.study;

import java.time.Duration;

/**
 * Arrivals as they came elsewhere: the instants of a file, a window of it, faster or slower, once or several times.
 *
 * @param file of the study, in which the instants stand
 * @param digest of what the file says of arrivals, by which runs of another file are told apart
 * @param from where the window begins, in the file's time
 * @param length of the window, in the file's time
 * @param speed how many times faster than in the file
 * @param repeat how often the window is made, one after the other
 * @param first number of the window's first arrival in the file, counted from 0
 * @param arrivals of the window
 * @param ready local file in which the arrivals are kept as a run takes them
 */
public record Timeline(String file, String digest, Duration from, Duration length, double speed, int repeat, long first,
        long arrivals, String ready) {

    /** Arrivals of a run's measured part. */
    public long all() {
        return arrivals * repeat;
    }

    /** How long a run of it takes, in nanoseconds. */
    public double nanos() {
        return repeat * length.toNanos() / speed;
    }
}
