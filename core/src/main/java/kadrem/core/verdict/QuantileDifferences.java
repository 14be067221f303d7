package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;

import kadrem.core.stats.Interval;
import kadrem.core.stats.SupTBand;
import kadrem.core.study.Written;

/**
 * How two candidates differ over the whole distribution of response times: at each percentile the geometric mean over rounds
 * of candidate divided by baseline, with a band that holds the whole curve at once ({@link SupTBand}). A percentile is
 * left out where any of the runs has fewer than ten calls beyond it, or did not reach it.
 *
 * @param without the lowest percentile that a run of either did not reach, and whose it was; empty where all were
 */
public record QuantileDifferences(String baseline, String candidate, int rounds, List<At> at,
        Optional<Without> without) {
    /** From p10 to p99.9. */
    public static final List<Double> PERCENTILES = List.of(10.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 75.0, 80.0, 85.0,
            90.0,
            92.5, 95.0, 97.0, 98.0, 99.0, 99.5, 99.7, 99.9);
    private static final double CONFIDENCE = 0.95;

    /** Calls of a candidate went without a good answer from a percentile on. */
    public record Without(String candidate, double percentile) {
    }

    /**
     * The difference at one percentile.
     *
     * @param ratio candidate divided by baseline
     * @param band empty for fewer than five rounds
     */
    public record At(double percentile, double ratio, Optional<Interval> band) {
    }

    /**
     * The differences over the rounds that both have.
     *
     * @param ofBaseline by round
     */
    public static QuantileDifferences of(String baseline, Map<Integer, RunTimes> ofBaseline, String candidate,
            Map<Integer, RunTimes> ofCandidate) {
        record Round(RunTimes baseline, RunTimes candidate) {
        }
        List<Round> rounds = new TreeMap<>(ofBaseline).entrySet().stream()
                .flatMap(one -> Optional.ofNullable(ofCandidate.get(one.getKey())).stream()
                        .map(other -> new Round(one.getValue(), other)))
                .toList();
        List<Double> shown = rounds.isEmpty()
                ? List.of()
                : PERCENTILES.stream().filter(one -> rounds.stream()
                        .allMatch(round -> round.baseline().hasTail(one) && round.candidate().hasTail(one))).toList();
        List<Double> known = shown.stream().filter(one -> rounds.stream()
                .allMatch(round -> isReached(round.baseline(), one) && isReached(round.candidate(), one))).toList();
        Optional<Without> without = shown.stream().filter(one -> !known.contains(one)).findFirst()
                .map(one -> new Without(rounds.stream().allMatch(round -> isReached(round.baseline(), one))
                        ? candidate
                        : baseline, one));
        double[][] logarithms = rounds.stream().map(round -> known.stream()
                .mapToDouble(one -> Math.log(round.candidate().at(one) / round.baseline().at(one))).toArray())
                .toArray(double[][]::new);
        Optional<SupTBand> band = known.isEmpty() ? Optional.empty() : SupTBand.of(logarithms);
        var at = new ArrayList<At>();
        for (int k = 0; k < known.size(); k++) {
            int place = k;
            double mean = java.util.Arrays.stream(logarithms).mapToDouble(round -> round[place]).average()
                    .orElseThrow();
            at.add(new At(known.get(k), Math.exp(mean), band.map(one -> one.at(place, CONFIDENCE))
                    .map(i -> new Interval(Math.exp(i.low()), Math.exp(i.high()), CONFIDENCE))));
        }
        return new QuantileDifferences(baseline, candidate, rounds.size(), List.copyOf(at), without);
    }

    private static boolean isReached(RunTimes run, double percentile) {
        return Double.isFinite(run.at(percentile));
    }

    /** Where the curve as a whole is told apart from none, in words: "faster from p10 to p90, slower from p99 to p99.5". */
    public String words() {
        Optional<String> silent = without.map(one -> "from p" + Written.significant(one.percentile()) + " on calls of "
                + one.candidate() + " went without a good answer");
        return at.isEmpty() ? silent.orElse("no percentile is known") : told() + silent.map("; "::concat).orElse("");
    }

    private String told() {
        if (at.stream().allMatch(one -> one.band().isEmpty())) {
            return "too few rounds for a band";
        }
        var parts = new ArrayList<String>();
        for (int from = 0, to; from < at.size(); from = to) {
            int side = side(at.get(from));
            to = from + 1;
            while (to < at.size() && side(at.get(to)) == side) {
                to++;
            }
            if (side != 0) {
                parts.add((side < 0 ? "faster " : "slower ") + (to - from == 1
                        ? "at " + name(at.get(from))
                        : "from " + name(at.get(from)) + " to " + name(at.get(to - 1))));
            }
        }
        return parts.isEmpty()
                ? "told apart at no percentile"
                : parts.stream().collect(Collectors.joining(", "))
                        + (at.stream().allMatch(one -> side(one) != 0) ? "" : "; not told apart elsewhere");
    }

    /** Below 0 where the candidate is faster, 0 where its band holds no difference. */
    private static int side(At at) {
        return at.band().map(band -> band.high() < 1 ? -1 : band.low() > 1 ? 1 : 0).orElse(0);
    }

    private static String name(At at) {
        return "p" + Written.significant(at.percentile());
    }
}
