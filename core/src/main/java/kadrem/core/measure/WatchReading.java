package kadrem.core.measure;

import java.util.List;

/**
 * What one source of the host watch told at one instant: values, or why there are none.
 *
 * @param at seconds after the start of the warm-up; negative in the idle stretch before the load
 * @param trouble why the source could not be read; empty where it could
 */
public record WatchReading(double at, String source, List<Value> values, String trouble) {
    public WatchReading {
        values = List.copyOf(values);
    }

    /** A series' value at that instant. */
    public record Value(HostSeries series, double value) {
    }

    /** The same reading on a clock that began {@code seconds} earlier. */
    public WatchReading later(double seconds) {
        return new WatchReading(at + seconds, source, values, trouble);
    }
}
