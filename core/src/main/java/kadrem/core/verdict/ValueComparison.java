package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;

import kadrem.core.stats.Interval;
import kadrem.core.stats.LocationTest;
import kadrem.core.stats.RankSum;
import kadrem.core.stats.SignedRank;
import kadrem.core.study.Margin;
import kadrem.core.study.Scale;

/**
 * The comparison of values that were measured elsewhere, one a run. Pairs whose values have rounds are compared round by round, as
 * runs of a study are; pairs without by rank sums, which takes more runs to settle the same. Values are compared as ratios where all
 * are above 0, else as differences.
 */
public record ValueComparison(Asked asked, Scale scale, List<Pair> pairs) {
    /**
     * What is asked.
     *
     * @param baseline candidate that the others are compared with; the first where there is none by that name
     * @param margin the smallest difference that matters, a share; of plain differences an absolute one
     */
    public record Asked(String baseline, double margin, double significance, boolean higherIsBetter) {
    }

    /**
     * One value.
     *
     * @param round empty where values are not paired
     */
    public record Value(String candidate, String round, double value) {
    }

    /**
     * One pair.
     *
     * @param paired whether values were paired by round
     * @param values of the baseline and of the candidate, in the order of the common rounds where they are paired
     * @param delta Cliff's delta of unpaired values
     */
    public record Pair(String baseline, String candidate, boolean paired, List<List<Double>> values, double estimate,
            Optional<Interval> interval, double p, double adjustedP, OptionalDouble delta, Outcome outcome) {
    }

    /** @throws IllegalArgumentException in words for who gave the values, if they cannot be compared */
    public static ValueComparison of(List<Value> values, Asked asked) {
        Map<String, Map<String, Double>> byCandidate = new LinkedHashMap<>();
        for (Value one : values) {
            Map<String, Double> own = byCandidate.computeIfAbsent(one.candidate(), _ -> new LinkedHashMap<>());
            String key = one.round().isEmpty() ? "\0" + own.size() : one.round();
            if (own.put(key, one.value()) != null) {
                throw new IllegalArgumentException("round " + one.round() + " of " + one.candidate()
                        + " has several values; say by which of their figures runs are compared");
            }
        }
        if (byCandidate.size() < 2) {
            throw new IllegalArgumentException("there are values of " + byCandidate.size()
                    + " candidate; it takes two or more");
        }
        if (!byCandidate.containsKey(asked.baseline())) {
            throw new IllegalArgumentException("there is no candidate \"" + asked.baseline() + "\", but "
                    + String.join(", ", byCandidate.keySet()));
        }
        boolean ratios = values.stream().allMatch(one -> one.value() > 0);
        Scale scale = ratios ? Scale.RATIO : Scale.DIFFERENCE;
        List<String> names = new ArrayList<>(byCandidate.keySet());
        names.remove(asked.baseline());
        names.addFirst(asked.baseline());
        var drafts = new ArrayList<Draft>();
        for (int i = 0; i < names.size(); i++) {
            for (int j = i + 1; j < names.size(); j++) {
                drafts.add(Draft.of(names.get(i), byCandidate.getOrDefault(names.get(i), Map.of()), names.get(j),
                        byCandidate.getOrDefault(names.get(j), Map.of()), scale, asked));
            }
        }
        double[] levels = Family.levels(asked.significance(), drafts.stream().map(Draft::test).toList());
        var pairs = new ArrayList<Pair>();
        for (int i = 0; i < levels.length; i++) {
            pairs.add(drafts.get(i).finish(levels[i], asked.significance()));
        }
        return new ValueComparison(asked, scale, List.copyOf(pairs));
    }

    private record Draft(String baseline, String candidate, boolean paired, List<List<Double>> values, PairTest test,
            OptionalDouble delta) {
        static Draft of(String baseline, Map<String, Double> ofBaseline, String candidate,
                Map<String, Double> ofCandidate, Scale scale, Asked asked) {
            boolean paired = ofBaseline.keySet().stream().noneMatch(key -> key.startsWith("\0"))
                    && ofCandidate.keySet().stream().noneMatch(key -> key.startsWith("\0"));
            List<String> common = ofBaseline.keySet().stream().filter(ofCandidate::containsKey).toList();
            if (paired && common.isEmpty()) {
                throw new IllegalArgumentException(baseline + " and " + candidate
                        + " have no round in common; leave the round empty to compare them unpaired");
            }
            List<Double> a = paired ? common.stream().map(ofBaseline::get).toList() : List.copyOf(ofBaseline.values());
            List<Double> b = paired
                    ? common.stream().map(ofCandidate::get).toList()
                    : List.copyOf(ofCandidate.values());
            double[] x = on(scale, a);
            double[] y = on(scale, b);
            LocationTest test;
            OptionalDouble delta = OptionalDouble.empty();
            if (paired) {
                var d = new double[x.length];
                java.util.Arrays.setAll(d, i -> y[i] - x[i]);
                test = SignedRank.of(d);
            } else {
                RankSum sums = RankSum.of(x, y);
                delta = OptionalDouble.of(sums.delta());
                test = sums;
            }
            return new Draft(baseline, candidate, paired, List.of(a, b),
                    new PairTest(new Margin(scale, asked.margin()), asked.higherIsBetter(), test), delta);
        }

        private static double[] on(Scale scale, List<Double> values) {
            // a ratio to a value that was not reached lies beyond all others
            return values.stream().mapToDouble(scale::of)
                    .map(value -> Math.clamp(value, -PairTest.UNBOUNDED, PairTest.UNBOUNDED)).toArray();
        }

        Pair finish(double level, double significance) {
            double adjustedP = Math.min(1, test.test().p(0) * Family.shared(significance, level));
            PairTest.Said said = test.at(level);
            return new Pair(baseline, candidate, paired, values, test.estimate(), said.interval(),
                    test.test().p(), adjustedP, delta, said.outcome());
        }
    }
}
