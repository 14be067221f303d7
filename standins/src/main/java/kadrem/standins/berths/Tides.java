package kadrem.standins.berths;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Height of the tide by the harmonic formula h(t) = Z + Σ A cos(ω t − φ), with the angular speeds of the principal
 * constituents M2, S2, N2, K1 and O1 in degrees an hour as published by Schureman, Manual of Harmonic Analysis and
 * Prediction of Tides, 1958, table 2. Amplitudes and phases of the stations are made up.
 */
final class Tides {
    static final int STEP_MINUTES = 10;
    private static final double[] SPEEDS = {28.9841042, 30.0, 28.4397295, 15.0410686, 13.9430356};
    private static final Map<String, Station> STATIONS = Map.of("north-mole",
            new Station(2.9, new double[]{1.62, 0.55, 0.31, 0.10, 0.08}, new double[]{112, 158, 91, 12, 340}),
            "inner-basin",
            new Station(2.4, new double[]{1.35, 0.47, 0.27, 0.09, 0.07}, new double[]{127, 175, 104, 21, 352}),
            "outer-roads",
            new Station(3.1, new double[]{1.71, 0.58, 0.33, 0.11, 0.09}, new double[]{103, 149, 83, 8, 333}));

    private Tides() {
    }

    private record Station(double mean, double[] amplitudes, double[] phases) {
    }

    /** A height in metres at a minute of a day. */
    record Height(int minute, double metres) {
    }

    static List<String> stations() {
        return STATIONS.keySet().stream().sorted().toList();
    }

    /** Heights of one day, one each ten minutes; empty for an unknown station. */
    static Optional<Height[]> day(String name, int day) {
        return Optional.ofNullable(STATIONS.get(name)).map(station -> {
            var heights = new Height[24 * 60 / STEP_MINUTES];
            for (int i = 0; i < heights.length; i++) {
                int minute = i * STEP_MINUTES;
                heights[i] = new Height(minute, height(station, day * 24.0 + minute / 60.0));
            }
            return heights;
        });
    }

    private static double height(Station station, double hours) {
        double height = station.mean;
        for (int i = 0; i < SPEEDS.length; i++) {
            height += station.amplitudes[i] * Math.cos(Math.toRadians(SPEEDS[i] * hours % 360 - station.phases[i]));
        }
        return height;
    }
}
