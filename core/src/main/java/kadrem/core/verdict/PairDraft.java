package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;

import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunRecord;
import kadrem.core.stats.BetweenGroups;
import kadrem.core.stats.LocationTest;
import kadrem.core.stats.PairedMean;
import kadrem.core.stats.SignedRank;
import kadrem.core.stats.SymmetryMartingale;
import kadrem.core.study.Margin;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;

/** A pair before it has its level. */
record PairDraft(Metric metric, String call, boolean deciding, Study.CandidatePair pair,
        List<PairComparison.Point> points, PairTest test) {
    /**
     * What all pairs of a comparison share.
     *
     * @param sittings of rounds, where there are enough of them to be the unit; else empty
     */
    record Shared(Study study, boolean anyTime, Map<Integer, String> sittings, SignedRank.Many ranks,
            Map<String, Map<Integer, RunRecord>> runs) {
    }

    /** @return empty where no round has both */
    static Optional<PairDraft> of(Shared shared, Metric metric, String call, Study.CandidatePair pair,
            Function<RunRecord, OptionalDouble> value) {
        Study study = shared.study();
        Map<String, Map<Integer, RunRecord>> runs = shared.runs();
        var points = new ArrayList<PairComparison.Point>();
        long ofBaseline = 0;
        long ofCandidate = 0;
        Map<Integer, RunRecord> candidateRuns = runs.getOrDefault(pair.candidate(), Map.of());
        for (Map.Entry<Integer, RunRecord> entry : runs.getOrDefault(pair.baseline(), Map.of()).entrySet()) {
            RunRecord other = candidateRuns.get(entry.getKey());
            if (other == null) {
                continue;
            }
            OptionalDouble baseline = value.apply(entry.getValue());
            OptionalDouble candidate = value.apply(other);
            if (baseline.isPresent() && candidate.isPresent()) {
                points.add(new PairComparison.Point(entry.getKey(), baseline.getAsDouble(),
                        candidate.getAsDouble()));
                ofBaseline += entry.getValue().figures().map(RunFigures::due).orElse(0L);
                ofCandidate += other.figures().map(RunFigures::due).orElse(0L);
            }
        }
        if (points.isEmpty()) {
            return Optional.empty();
        }
        Optional<Question.Decider> decider = study.question().decider(metric);
        Margin margin = decider.map(Question.Decider::margin).orElse(metric.usualMargin());
        double[] differences = PairComparison.differences(metric, points);
        return Optional.of(new PairDraft(metric, call, decider.isPresent() && call.isEmpty(), pair,
                List.copyOf(points), new PairTest(margin, metric.higherIsBetter(),
                        test(shared, metric, points, differences, Math.min(ofBaseline, ofCandidate)))));
    }

    private static LocationTest test(Shared shared, Metric metric, List<PairComparison.Point> points,
            double[] differences, long calls) {
        if (!shared.sittings().isEmpty()) {
            var groups = new TreeMap<String, List<Double>>();
            for (int i = 0; i < differences.length; i++) {
                groups.computeIfAbsent(shared.sittings().getOrDefault(points.get(i).round(), ""),
                        _ -> new ArrayList<>()).add(differences[i]);
            }
            Optional<BetweenGroups> between = BetweenGroups.of(groups.values().stream()
                    .map(group -> group.stream().mapToDouble(Double::doubleValue).toArray())
                    .toArray(double[][]::new));
            if (between.isPresent()) {
                return between.get();
            }
        }
        if (shared.anyTime()) {
            return SymmetryMartingale.of(differences);
        }
        Optional<PairedMean> mean = metric.kind() == Metric.Kind.ERROR_SHARE
                ? PairedMean.of(calls, differences)
                : Optional.empty();
        return mean.isPresent() ? mean.get() : shared.ranks().of(differences);
    }

    /**
     * @param spent what the look spends of the significance
     * @param whole the significance
     */
    PairComparison finish(double level, double spent, double whole) {
        PairTest.Said said = test.at(level);
        double p = test.test().p();
        return new PairComparison(metric, call, deciding, pair.baseline(), pair.candidate(), test.margin(), points,
                test.test(), test.estimate(), said.interval(), p, Math.min(1, test.test().p(0) * whole / level),
                Family.shared(spent, level), said.outcome());
    }

    /** Metrics that do not decide: each over its own pairs, and calls. */
    static List<PairComparison> hints(List<PairDraft> drafts, double significance) {
        var pairs = new ArrayList<PairComparison>();
        Map<Metric, List<PairDraft>> families = drafts.stream()
                .collect(Collectors.groupingBy(PairDraft::metric, LinkedHashMap::new, Collectors.toList()));
        for (List<PairDraft> family : families.values()) {
            double[] levels = Family.even(significance, family.size());
            for (int i = 0; i < levels.length; i++) {
                pairs.add(family.get(i).finish(levels[i], significance, significance));
            }
        }
        return pairs;
    }
}
