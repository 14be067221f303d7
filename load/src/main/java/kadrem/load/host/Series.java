package kadrem.load.host;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

import kadrem.core.measure.HostSeries;
import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;

/** The values of one reading of a source, and the memory that turns its totals into rates. One thread. */
public final class Series {
    private static final double NANOS = 1e9;

    private final String source;
    private final Map<String, HostSeries> known = new HashMap<>();
    private final Map<String, Double> totals = new HashMap<>();
    private List<WatchReading.Value> values = new ArrayList<>();
    private double elapsedSeconds;
    private long before;

    /** @param source name of the source */
    public Series(String source) {
        this.source = source;
    }

    /** Begins a reading. */
    public void at(long nanoTime) {
        elapsedSeconds = before == 0 ? 0 : (nanoTime - before) / NANOS;
        before = nanoTime;
        values = new ArrayList<>();
    }

    /** A value as it is. */
    public void level(String name, String unit, SeriesRole role, double value) {
        if (Double.isFinite(value)) {
            values.add(new WatchReading.Value(
                    known.computeIfAbsent(name, one -> new HostSeries(source, one, unit, role)), value));
        }
    }

    /** What a total grew by each second since the reading before; a total that fell began anew and has no rate yet. */
    public void rate(String name, String unit, SeriesRole role, double total) {
        Double last = totals.put(name, total);
        if (last != null && total >= last && elapsedSeconds > 0) {
            level(name, unit, role, (total - last) / elapsedSeconds);
        }
    }

    /** The values of this reading. */
    public List<WatchReading.Value> values() {
        return List.copyOf(values);
    }
}
