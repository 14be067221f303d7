package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.BiFunction;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.plan.LoadDigest;
import kadrem.core.stats.Friedman;
import kadrem.core.stats.Holm;
import kadrem.core.stats.SignedRank;
import kadrem.core.stats.SymmetryMartingale;
import kadrem.core.study.Candidate;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Study;

/**
 * The paired comparison of all candidates on all metrics. The unit is a run, the block is a round: only rounds in which
 * both candidates of a pair have a complete and sound run count.
 * <p>
 * Holm's adjustment runs over all pairs and all deciding metrics together. A metric that does not decide is an
 * observation beside the decision; its p-values are adjusted over its own pairs, and over its calls where it is looked at by call.
 *
 * @param entered the runs that entered, by candidate and round
 * @param pairs one for each metric and pair with at least one common round, metrics in the order of the question first
 * @param leftOut the runs that did not enter, each with the reason
 * @param takenIn sentences on unsound runs that entered all the same
 */
public record Comparison(Study study, Map<String, Map<Integer, RunRecord>> entered, List<PairComparison> pairs,
        List<LeftOut> leftOut, List<String> takenIn, Progress progress) {
    /** The margin of a metric that does not decide and so has none of its own. */
    public static final double DEFAULT_MARGIN = 0.05;
    private static final double DEFAULT_DIFFERENCE = 0.001;
    /** The metrics of which a run has a figure for each call. */
    public static final List<Metric> OF_CALLS = List.of(Metric.P50, Metric.P95, Metric.P99, Metric.MEAN);

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

    /**
     * How far the plan is.
     *
     * @param measured rounds in which every candidate has a run that was measured to its end
     * @param planned rounds that were planned, or the most of an adaptive plan
     * @param adaptive whether figures are valid at any stop
     */
    public record Progress(int measured, int planned, boolean adaptive) {
        /** Whether this is a look before the planned end, at which nothing may be concluded yet. */
        public boolean isEarlyLook() {
            return !adaptive && measured < planned;
        }
    }

    public static Comparison of(Study study, List<RunRecord> runs) {
        Map<String, Map<Integer, RunRecord>> entered = comparableRuns(study, runs);
        var drafts = new ArrayList<Draft>();
        var ranks = new SignedRank.Many();
        for (Metric metric : metrics(study.question())) {
            for (Study.CandidatePair pair : study.pairs()) {
                Draft.of(study, ranks, metric, "", pair, entered, (run, _) -> run.value(metric)).ifPresent(drafts::add);
            }
        }
        return new Comparison(study, entered, adjusted(study, drafts), leftOut(study, runs), takenIn(study, runs),
                progress(study, runs));
    }

    /**
     * The pairs call by call, adjusted over all calls and pairs of the metric. Many comparisons at once: a call that stands out
     * in one study should be asked about in another.
     */
    public List<PairComparison> byCall(Metric metric) {
        Set<String> calls = new LinkedHashSet<>();
        entered.values().forEach(rounds -> rounds.values().forEach(run -> run.figures().orElseThrow().calls()
                .forEach(call -> calls.add(call.name()))));
        var drafts = new ArrayList<Draft>();
        var ranks = new SignedRank.Many();
        for (String call : calls) {
            for (Study.CandidatePair pair : study.pairs()) {
                Draft.of(study, ranks, metric, call, pair, entered, (run, name) -> run.calls().stream()
                        .filter(one -> one.name().equals(name)).findFirst().map(one -> one.value(metric))
                        .orElse(OptionalDouble.empty())).ifPresent(drafts::add);
            }
        }
        return adjusted(study, drafts);
    }

    private static List<PairComparison> adjusted(Study study, List<Draft> drafts) {
        var pairs = new ArrayList<PairComparison>();
        Map<String, List<Draft>> families = drafts.stream()
                .collect(Collectors.groupingBy(Draft::family, java.util.LinkedHashMap::new, Collectors.toList()));
        for (List<Draft> family : families.values()) {
            double[] adjusted = Holm.adjust(family.stream().mapToDouble(draft -> draft.test().test().p()).toArray());
            for (int i = 0; i < adjusted.length; i++) {
                pairs.add(family.get(i).finish(adjusted[i], study.question().significance(), family.size()));
            }
        }
        return List.copyOf(pairs);
    }

    /** All metrics, those that decide first and in the order of the question. */
    public static List<Metric> metrics(Question question) {
        var metrics = new LinkedHashSet<Metric>();
        question.deciders().forEach(decider -> metrics.add(decider.metric()));
        metrics.addAll(Arrays.asList(Metric.values()));
        return List.copyOf(metrics);
    }

    public List<PairComparison> on(Metric metric) {
        return pairs.stream().filter(pair -> pair.metric() == metric).toList();
    }

    /** The comparison of two candidates on a metric, whichever of them is its baseline. */
    public Optional<PairComparison> on(Metric metric, String one, String other) {
        return on(metric).stream().filter(pair -> Set.of(pair.baseline(), pair.candidate()).equals(Set.of(one, other)))
                .findFirst();
    }

    /** The values that entered of a candidate, by round. */
    public TreeMap<Integer, Double> values(Metric metric, String candidate) {
        var values = new TreeMap<Integer, Double>();
        entered.getOrDefault(candidate, Map.of())
                .forEach((round, run) -> run.figures().orElseThrow().value(metric)
                        .ifPresent(value -> values.put(round, value)));
        return values;
    }

    /** The rounds in which each of these candidates has a run that entered. */
    public List<Integer> commonRounds(List<String> candidates) {
        var common = new TreeSet<Integer>();
        candidates.stream().findFirst()
                .ifPresent(first -> common.addAll(entered.getOrDefault(first, Map.of()).keySet()));
        candidates.forEach(candidate -> common.retainAll(entered.getOrDefault(candidate, Map.of()).keySet()));
        return List.copyOf(common);
    }

    /**
     * Friedman's test of "all candidates are alike" on a metric, over the rounds that all of them have; asked before pairs where
     * there are three or more candidates.
     */
    public Optional<Friedman> together(Metric metric) {
        List<String> candidates = study.candidates().stream().map(Candidate::id).toList();
        List<double[]> blocks = commonRounds(candidates).stream()
                .map(round -> candidates.stream().map(id -> values(metric, id).get(round)).toList())
                .filter(row -> row.stream().noneMatch(java.util.Objects::isNull))
                .map(row -> row.stream().mapToDouble(Double::doubleValue).toArray()).toList();
        return candidates.size() < 3 || blocks.size() < 2 ? Optional.empty() : Optional.of(Friedman.of(blocks));
    }

    /** Sentences on the pairs of which more or something else can be said than before. */
    public List<String> changesFrom(Comparison before) {
        return pairs.stream().flatMap(now -> before.pairs.stream()
                .filter(was -> was.metric() == now.metric() && was.baseline().equals(now.baseline())
                        && was.candidate().equals(now.candidate()) && was.outcome() != now.outcome())
                .map(was -> now.metric().id() + " of " + now.candidate() + " against " + now.baseline() + ": "
                        + now.outcome().words() + " instead of " + was.outcome().words()))
                .toList();
    }

    /** Whether a run is sound, or was taken in by hand, and its round was not left out. */
    private static boolean enters(Study study, RunRecord run) {
        return study.judgement().whyLeftOut(run.round()).isEmpty()
                && (run.judgedUnder(study.judgement()).isComparable()
                        || run.hasWholeFigures() && study.judgement().reason(run.id()).isPresent());
    }

    /** In which the study judges runs otherwise than is usual: changed limits, runs taken in and rounds left out by hand. */
    public List<String> judgedOtherwise() {
        Stream<String> rounds = study.judgement().leftOut().stream()
                .map(one -> "round " + one.round() + " left out by hand: " + one.reason());
        Stream<String> limits = study.judgement().limits().entrySet().stream().sorted(Map.Entry.comparingByKey())
                .map(entry -> "limit of " + entry.getKey().label() + ": " + entry.getKey().written(entry.getValue())
                        + (entry.getKey() == SoundnessRule.WARM_UP
                                ? ""
                                : ", usually " + entry.getKey().written(entry.getKey().usualLimit())));
        return Stream.concat(Stream.concat(limits, takenIn.stream()), rounds).toList();
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

    private static Progress progress(Study study, List<RunRecord> runs) {
        String digest = LoadDigest.of(study);
        Map<Integer, Long> complete = runs.stream()
                .filter(run -> run.outcome() == RunOutcome.COMPLETE && run.studyDigest().equals(digest))
                .filter(run -> study.candidate(run.candidate()).isPresent())
                .collect(Collectors.groupingBy(RunRecord::round,
                        Collectors.mapping(RunRecord::candidate, Collectors.collectingAndThen(Collectors.toSet(),
                                one -> (long) one.size()))));
        int measured = (int) complete.values().stream().filter(count -> count == study.candidates().size()).count();
        return new Progress(measured, study.plan().most(), study.plan().isAdaptive());
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
        Optional<String> byHand = study.judgement().whyLeftOut(run.round());
        if (byHand.isPresent()) {
            return "its round was left out by hand: " + byHand.get();
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

    /** All runs that entered, in the order in which they were measured. */
    public List<RunRecord> inOrder() {
        return entered.values().stream().flatMap(rounds -> rounds.values().stream())
                .sorted(Comparator.comparing(RunRecord::started)).toList();
    }

    /** A pair before p-values are adjusted. */
    private record Draft(Metric metric, String call, boolean deciding, boolean anyTime, Study.CandidatePair pair,
            List<PairComparison.Point> points, PairTest test) {

        /** @return empty where no round has both */
        static Optional<Draft> of(Study study, SignedRank.Many ranks, Metric metric, String call,
                Study.CandidatePair pair,
                Map<String, Map<Integer, RunRecord>> runs, BiFunction<RunFigures, String, OptionalDouble> value) {
            var points = new ArrayList<PairComparison.Point>();
            Map<Integer, RunRecord> candidateRuns = runs.getOrDefault(pair.candidate(), Map.of());
            for (Map.Entry<Integer, RunRecord> entry : runs.getOrDefault(pair.baseline(), Map.of()).entrySet()) {
                RunRecord other = candidateRuns.get(entry.getKey());
                OptionalDouble baseline = usable(metric, value.apply(entry.getValue().figures().orElseThrow(), call));
                OptionalDouble candidate = other == null
                        ? OptionalDouble.empty()
                        : usable(metric, value.apply(other.figures().orElseThrow(), call));
                if (baseline.isPresent() && candidate.isPresent()) {
                    points.add(new PairComparison.Point(entry.getKey(), baseline.getAsDouble(),
                            candidate.getAsDouble()));
                }
            }
            if (points.isEmpty()) {
                return Optional.empty();
            }
            Optional<Question.Decider> decider = study.question().decider(metric);
            double margin = decider.map(Question.Decider::margin)
                    .orElse(metric.scale() == Metric.Scale.RATIO ? DEFAULT_MARGIN : DEFAULT_DIFFERENCE);
            boolean anyTime = study.plan().isAdaptive();
            double[] differences = PairComparison.differences(metric, points);
            return Optional.of(new Draft(metric, call, decider.isPresent() && call.isEmpty(), anyTime, pair,
                    List.copyOf(points), new PairTest(metric.scale(), metric.higherIsBetter(), margin,
                            anyTime ? SymmetryMartingale.of(differences) : ranks.of(differences))));
        }

        private static OptionalDouble usable(Metric metric, OptionalDouble value) {
            boolean usable = value.isPresent()
                    && (metric.scale() == Metric.Scale.DIFFERENCE || value.getAsDouble() > 0);
            return usable ? value : OptionalDouble.empty();
        }

        String family() {
            return deciding ? "deciding" : metric.id();
        }

        PairComparison finish(double adjustedP, double significance, int family) {
            return new PairComparison(metric, call, deciding, anyTime, pair.baseline(), pair.candidate(),
                    test.margin(), points, test.estimate(), test.interval(1 - significance), test.test().p(), adjustedP,
                    family, test.outcome(adjustedP, significance));
        }
    }
}
