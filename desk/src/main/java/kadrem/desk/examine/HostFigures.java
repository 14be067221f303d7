package kadrem.desk.examine;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** What can be drawn of {@code host.csv}: shares and sizes as they are, totals as what was added each second. */
enum HostFigures {
    CANDIDATE_CPU("candidate's CPU, % of a processor", "candidate_cpu_ms", 0.1, true), HOST_BUSY(
            "host's processors busy, %", "host_cpu_share", 100, false), STEAL("taken by the machine below, %",
                    "host_steal_share", 100, false), CANDIDATE_MEMORY("candidate's memory, MiB",
                            "candidate_memory_bytes", 1.0 / (1 << 20), false), HOST_MEMORY("host's memory in use, MiB",
                                    "host_memory_used_bytes", 1.0 / (1 << 20), false), KADREM_CPU(
                                            "Kadrem's CPU, % of a processor", "kadrem_cpu_ms", 0.1,
                                            true), LANES("generator's lanes, % of a processor", "lane_cpu_ms", 0.1,
                                                    true);

    private static final double MIN_INTERVAL = 0.5;

    private final String title;
    private final String column;
    private final double factor;
    private final boolean total;

    HostFigures(String title, String column, double factor, boolean total) {
        this.title = title;
        this.column = column;
        this.factor = factor;
        this.total = total;
    }

    @Override
    public String toString() {
        return title;
    }

    /** Whether it is a figure of Kadrem itself, which no source tells of. */
    boolean isOfKadrem() {
        return this == KADREM_CPU || this == LANES;
    }

    /** Seconds with values, those that are known. */
    List<double[]> points(Map<String, double[]> host) {
        double[] at = host.getOrDefault("at_s", new double[0]);
        double[] values = host.getOrDefault(column, new double[0]);
        var points = new ArrayList<double[]>();
        for (int i = total ? 1 : 0; i < Math.min(at.length, values.length); i++) {
            double value = total ? (values[i] - values[i - 1]) / (at[i] - at[i - 1]) : values[i];
            // the last sample of a run may follow the one before at once, which is too short for a rate
            boolean tooShort = total && at[i] - at[i - 1] < MIN_INTERVAL;
            if (at[i] >= 0 && !tooShort && Double.isFinite(value)) {
                points.add(new double[]{at[i], value * factor});
            }
        }
        return points;
    }
}
