package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.measure.RunRecord;
import kadrem.core.plan.LoadDigest;
import kadrem.core.stats.Holm;
import kadrem.core.stats.SignedRank;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Study;

/**
 * The paired comparison of all candidates on all metrics. The unit is a run, the block is a round: only rounds in which
 * both candidates of a pair have a complete and sound run count.
 * <p>
 * Holm's adjustment runs over all pairs and all deciding metrics together. A metric that does not decide is an
 * observation beside the decision; its p-values are adjusted over its own pairs.
 *
 * @param pairs one for each metric and pair with at least one common round, metrics in the order of the question first
 * @param leftOut the runs that did not enter, each with the reason
 * @param takenIn sentences on unsound runs that entered all the same
 */
public record Comparison(Study study, List<PairComparison> pairs, List<LeftOut> leftOut, List<String> takenIn) {
    /** The confidence of the interval that is held inside the margin to show that a difference does not matter. */
    private static final double EQUIVALENCE_CONFIDENCE = 0.90;
    /** The margin of a metric that does not decide and so has none of its own. */
    public static final double DEFAULT_MARGIN = 0.05;

    /**
     * A run that does not enter.
     *
     * @param why a clause such as "cut off"
     */
    public record LeftOut(int round, String candidate, String why) {
        /** "round 3, loop: cut off". */
        public String sentence() {
            return "round " + round + ", " + candidate + ": " + why;
        }
    }

    public static Comparison of(Study study, List<RunRecord> runs) {
        Map<String, Map<Integer, RunRecord>> comparable = comparableRuns(study, runs);
        var drafts = new ArrayList<Draft>();
        for (Metric metric : metrics(study.question())) {
            for (Study.CandidatePair pair : study.pairs()) {
                Draft draft = Draft.of(study.question(), metric, pair, comparable);
                if (!draft.points().isEmpty()) {
                    drafts.add(draft);
                }
            }
        }
        var pairs = new ArrayList<PairComparison>();
        Map<String, List<Draft>> families = drafts.stream()
                .collect(Collectors.groupingBy(Draft::family, java.util.LinkedHashMap::new, Collectors.toList()));
        for (List<Draft> family : families.values()) {
            double[] adjusted = Holm.adjust(family.stream().mapToDouble(draft -> draft.test().p()).toArray());
            for (int i = 0; i < adjusted.length; i++) {
                pairs.add(family.get(i).finish(adjusted[i], study.question().significance()));
            }
        }
        return new Comparison(study, List.copyOf(pairs), leftOut(study, runs), takenIn(study, runs));
    }

    /** All metrics, those that decide first and in the order of the question. */
    public static List<Metric> metrics(Question question) {
        var metrics = new java.util.LinkedHashSet<Metric>();
        question.deciders().forEach(decider -> metrics.add(decider.metric()));
        metrics.addAll(Arrays.asList(Metric.values()));
        return List.copyOf(metrics);
    }

    public List<PairComparison> on(Metric metric) {
        return pairs.stream().filter(pair -> pair.metric() == metric).toList();
    }

    /** Whether a run is sound, or was taken in by hand. */
    private static boolean enters(Study study, RunRecord run) {
        return run.judgedUnder(study.judgement()).isComparable()
                || run.hasWholeFigures() && study.judgement().reason(run.id()).isPresent();
    }

    /** In which the study judges runs otherwise than is usual: changed limits, and runs taken in by hand. */
    public List<String> judgedOtherwise() {
        return Stream.concat(study.judgement().limits().entrySet().stream().sorted(Map.Entry.comparingByKey())
                .map(entry -> "limit of " + entry.getKey().label() + ": " + entry.getKey().written(entry.getValue())
                        + (entry.getKey() == SoundnessRule.WARM_UP
                                ? ""
                                : ", usually " + entry.getKey().written(entry.getKey().usualLimit()))),
                takenIn.stream()).toList();
    }

    /** Sentences on runs that are unsound and enter all the same. */
    private static List<String> takenIn(Study study, List<RunRecord> runs) {
        return runs.stream()
                .filter(run -> !run.judgedUnder(study.judgement()).isComparable() && enters(study, run)
                        && run.studyDigest().equals(LoadDigest.of(study)))
                .flatMap(run -> study.judgement().reason(run.id()).stream()
                        .map(reason -> "round " + run.round() + ", " + run.candidate()
                                + ": taken in by hand, though unsound: " + reason))
                .toList();
    }

    /** The last comparable run of each candidate in each round. */
    private static Map<String, Map<Integer, RunRecord>> comparableRuns(Study study, List<RunRecord> runs) {
        String digest = LoadDigest.of(study);
        var byCandidate = new TreeMap<String, Map<Integer, RunRecord>>();
        study.candidates().forEach(candidate -> byCandidate.put(candidate.id(), new TreeMap<>()));
        for (RunRecord run : runs) {
            Map<Integer, RunRecord> byRound = byCandidate.get(run.candidate());
            if (byRound != null && enters(study, run) && run.studyDigest().equals(digest)) {
                byRound.merge(run.round(), run, (a, b) -> a.started().isAfter(b.started()) ? a : b);
            }
        }
        return byCandidate;
    }

    private static List<LeftOut> leftOut(Study study, List<RunRecord> runs) {
        String digest = LoadDigest.of(study);
        return runs.stream()
                .filter(run -> !enters(study, run) || study.candidate(run.candidate()).isEmpty()
                        || !run.studyDigest().equals(digest))
                .map(run -> new LeftOut(run.round(), run.candidate(), whyLeftOut(study, run))).toList();
    }

    private static String whyLeftOut(Study study, RunRecord run) {
        if (study.candidate(run.candidate()).isEmpty()) {
            return "not a candidate of the study any more";
        }
        if (!run.studyDigest().equals(LoadDigest.of(study))) {
            return "measured with another workload or load than the study has now";
        }
        return switch (run.outcome()) {
            case COMPLETE -> run.figures().isEmpty()
                    ? "no figures"
                    : "unsound: " + run.judgedUnder(study.judgement()).soundness().stream()
                            .filter(finding -> !finding.ok())
                            .map(kadrem.core.measure.Soundness.Finding::sentence).collect(Collectors.joining("; "));
            case FAILED -> "failed: " + run.reason();
            case ENDED_BY_RULE -> "ended by a stop rule: " + run.reason();
            case STOPPED -> "stopped by hand";
            case CUT_OFF -> "cut off";
            case RUNNING -> "still running";
        };
    }

    /** A pair before p-values are adjusted. */
    private record Draft(Metric metric, Optional<Question.Decider> decider, Study.CandidatePair pair,
            List<PairComparison.Point> points, SignedRank test) {

        static Draft of(Question question, Metric metric, Study.CandidatePair pair,
                Map<String, Map<Integer, RunRecord>> runs) {
            var points = new ArrayList<PairComparison.Point>();
            Map<Integer, RunRecord> candidateRuns = runs.getOrDefault(pair.candidate(), Map.of());
            for (Map.Entry<Integer, RunRecord> entry : runs.getOrDefault(pair.baseline(), Map.of()).entrySet()) {
                RunRecord other = candidateRuns.get(entry.getKey());
                OptionalDouble baseline = value(entry.getValue(), metric);
                OptionalDouble candidate = other == null ? OptionalDouble.empty() : value(other, metric);
                if (baseline.isPresent() && candidate.isPresent()) {
                    points.add(new PairComparison.Point(entry.getKey(), baseline.getAsDouble(),
                            candidate.getAsDouble()));
                }
            }
            double[] differences = points.stream().mapToDouble(point -> difference(metric, point)).toArray();
            SignedRank test = differences.length == 0 ? SignedRank.of(0) : SignedRank.of(differences);
            return new Draft(metric, question.decider(metric), pair, List.copyOf(points), test);
        }

        private static OptionalDouble value(RunRecord run, Metric metric) {
            OptionalDouble value = run.figures().orElseThrow().value(metric);
            boolean usable = value.isPresent()
                    && (metric.scale() == Metric.Scale.DIFFERENCE || value.getAsDouble() > 0);
            return usable ? value : OptionalDouble.empty();
        }

        private static double difference(Metric metric, PairComparison.Point point) {
            return metric.scale() == Metric.Scale.RATIO
                    ? Math.log(point.candidate() / point.baseline())
                    : point.candidate() - point.baseline();
        }

        String family() {
            return decider.isPresent() ? "deciding" : metric.id();
        }

        PairComparison finish(double adjustedP, double significance) {
            Optional<SignedRank.Interval> interval = test.interval(1 - significance);
            double margin = decider.map(Question.Decider::margin)
                    .orElse(metric.scale() == Metric.Scale.RATIO ? DEFAULT_MARGIN : 0.001);
            double zone = metric.scale() == Metric.Scale.RATIO ? Math.log1p(margin) : margin;
            Outcome outcome = outcome(interval, zone, adjustedP <= significance);
            return new PairComparison(metric, decider.isPresent(), pair.baseline(), pair.candidate(), margin, points,
                    shown(test.estimate()),
                    interval.map(i -> new SignedRank.Interval(shown(i.low()), shown(i.high()), i.achievedConfidence())),
                    test.p(), adjustedP, outcome);
        }

        private Outcome outcome(Optional<SignedRank.Interval> interval, double zone, boolean significant) {
            boolean different = significant && interval.isPresent() && !interval.get().contains(0);
            if (different && (interval.get().low() > zone || interval.get().high() < -zone)) {
                return towards(interval.get().low() > 0, Outcome.WORSE_BY_MORE, Outcome.BETTER_BY_MORE);
            }
            Optional<SignedRank.Interval> narrow = test.interval(EQUIVALENCE_CONFIDENCE);
            if (narrow.isPresent() && narrow.get().low() > -zone && narrow.get().high() < zone) {
                return Outcome.NO_DIFFERENCE_THAT_MATTERS;
            }
            return different ? towards(interval.get().low() > 0, Outcome.WORSE, Outcome.BETTER) : Outcome.NOT_SETTLED;
        }

        private Outcome towards(boolean higher, Outcome ifHigher, Outcome mirror) {
            return higher != metric.higherIsBetter() ? ifHigher : mirror;
        }

        private double shown(double difference) {
            return metric.scale() == Metric.Scale.RATIO ? Math.exp(difference) : difference;
        }
    }
}
