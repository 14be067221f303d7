package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;

import kadrem.core.stats.BcaBootstrap;
import kadrem.core.stats.Interval;
import org.HdrHistogram.AbstractHistogram;

/**
 * How two candidates differ over the whole distribution of response times: at each percentile the geometric mean over rounds
 * of candidate divided by baseline, with a round-wise BCa bootstrap band that holds for each percentile by itself. A percentile is
 * left out where any of the runs has fewer than ten calls beyond it.
 */
public record QuantileDifferences(String baseline, String candidate, int rounds, List<At> at) {
    /** From p10 to p99.9. */
    public static final List<Double> PERCENTILES = List.of(10.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 75.0, 80.0, 85.0,
            90.0,
            92.5, 95.0, 97.0, 98.0, 99.0, 99.5, 99.7, 99.9);
    private static final double CONFIDENCE = 0.95;
    private static final long LEAST_TAIL = 10;

    /**
     * The difference at one percentile.
     *
     * @param ratio candidate divided by baseline
     * @param band empty for fewer than five rounds
     */
    public record At(double percentile, double ratio, java.util.Optional<Interval> band) {
    }

    /**
     * The differences over the rounds that both have.
     *
     * @param ofBaseline response times in nanoseconds by round
     * @param seed fixes the resamples
     */
    public static QuantileDifferences of(String baseline, Map<Integer, ? extends AbstractHistogram> ofBaseline,
            String candidate, Map<Integer, ? extends AbstractHistogram> ofCandidate, long seed) {
        List<Integer> rounds = ofBaseline.keySet().stream().filter(ofCandidate::containsKey).sorted().toList();
        var at = new ArrayList<At>();
        if (!rounds.isEmpty()) {
            BcaBootstrap resamples = BcaBootstrap.of(rounds.size(), seed);
            for (double percentile : PERCENTILES) {
                boolean known = rounds.stream().allMatch(round -> hasTail(ofBaseline.get(round), percentile)
                        && hasTail(ofCandidate.get(round), percentile));
                if (known) {
                    double[] d = rounds.stream().mapToDouble(round -> Math.log(
                            (double) ofCandidate.get(round).getValueAtPercentile(percentile)
                                    / ofBaseline.get(round).getValueAtPercentile(percentile)))
                            .toArray();
                    double mean = java.util.Arrays.stream(d).average().orElse(0);
                    at.add(new At(percentile, Math.exp(mean), resamples.interval(d, CONFIDENCE)
                            .map(i -> new Interval(Math.exp(i.low()), Math.exp(i.high()), CONFIDENCE))));
                }
            }
        }
        return new QuantileDifferences(baseline, candidate, rounds.size(), List.copyOf(at));
    }

    private static boolean hasTail(AbstractHistogram histogram, double percentile) {
        return histogram.getTotalCount() * (1 - percentile / 100) >= LEAST_TAIL - 1e-6;
    }
}
