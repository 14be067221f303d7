package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;

import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Standing;
import kadrem.core.plan.Look;
import kadrem.core.stats.BetweenGroups;
import kadrem.core.stats.Friedman;
import kadrem.core.stats.SignedRank;
import kadrem.core.study.Candidate;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Seal;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Study;

/**
 * The comparison of all candidates on all metrics, and of each with what is asked of it; one file, since all that is asked of a comparison
 * is answered from the same runs. The unit is a run, the block is a round.
 * <p>
 * Pairs on deciding metrics and requirements are one {@link Family}: the chance that anything said of them is false is at most the
 * significance. A metric that does not decide is a hint beside the decision; its intervals are adjusted over its own pairs, and over its
 * calls where it is looked at by call.
 *
 * @param counted the runs that count, by candidate and round
 * @param entered those of them that are judged: not those that wait for the next look at the study
 * @param pairs one for each metric and pair with at least one common round, metrics in the order of the question first
 * @param requirements for each requirement and candidate
 * @param leftOut runs that are no part of a round that counts, each with the reason
 * @param setAside rounds that do not count
 * @param takenIn sentences on disturbed runs that count by hand all the same
 * @param all the same with the rounds that were set aside; empty where none was
 */
public record Comparison(Study study, Map<String, Map<Integer, RunRecord>> counted,
        Map<String, Map<Integer, RunRecord>> entered, List<PairComparison> pairs,
        List<RequirementResult> requirements, List<LeftOut> leftOut, RoundsSetAside setAside, List<String> takenIn,
        Progress progress, Optional<Comparison> all) {
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
     * Rounds that do not count, since something else than the candidates was measured in them, or by hand.
     *
     * @param rounds by number
     * @param sentences one for each run that was disturbed, and each round left out by hand
     * @param blindness probability that disturbances fall on candidates so unevenly, if they struck blindly; empty where there was none
     */
    public record RoundsSetAside(List<Integer> rounds, List<String> sentences, Optional<Double> blindness) {
        static final RoundsSetAside NONE = new RoundsSetAside(List.of(), List.of(), Optional.empty());
    }

    /**
     * How far the plan is.
     *
     * @param measured rounds that are judged: they count, and every candidate has a result in them
     * @param waiting such rounds beyond the last look, which the next look judges
     * @param planned rounds that were planned, or the most of an adaptive plan
     * @param adaptive whether figures are valid at any stop
     * @param look when this was, and what it may spend
     */
    public record Progress(int measured, int waiting, int planned, boolean adaptive, Look look) {
        /** Whether this is a look before the planned end, at which nothing may be concluded yet. */
        public boolean isEarlyLook() {
            return !adaptive && measured < planned;
        }

        /** Which rounds are not judged yet; empty where all are. */
        public Optional<String> waitingSentence() {
            return waiting == 0
                    ? Optional.empty()
                    : Optional.of(waiting + (waiting == 1 ? " round waits" : " rounds wait")
                            + " for the next look at the study, at " + look.nextWords() + ".");
        }

        /** Whether a plan that was through was gone on with, and is judged by what was kept back for that. */
        public boolean isGoneOnWith() {
            return look.beyond() > 0 && !look.isOfSittings();
        }
    }

    public static Comparison of(Study study, List<RunRecord> runs) {
        Admission admission = Admission.of(study, runs);
        Optional<Comparison> all = admission.setAside().isEmpty()
                ? Optional.empty()
                : Optional.of(new ComparisonMaker(study, admission, true).make());
        Comparison counted = new ComparisonMaker(study, admission, false).make();
        return new Comparison(study, counted.counted, counted.entered, counted.pairs, counted.requirements,
                counted.leftOut,
                counted.setAside, counted.takenIn, counted.progress, all);
    }

    /**
     * The highest level of a search that every run took; candidates are compared at it, since p95 at 320 users and p95 at 80 are two
     * things. Empty where nothing is searched, or no level is common.
     */
    public OptionalDouble commonLevel() {
        return ComparisonMaker.commonLevel(study, entered);
    }

    /**
     * The pairs call by call, adjusted over all calls and pairs of the metric. Many comparisons at once: a call that stands out
     * in one study should be asked about in another.
     */
    public List<PairComparison> byCall(Metric metric) {
        Set<String> calls = new LinkedHashSet<>();
        entered.values().forEach(rounds -> rounds.values().forEach(run -> run.figures().stream()
                .flatMap(figures -> figures.calls().stream()).forEach(call -> calls.add(call.name()))));
        var drafts = new ArrayList<PairDraft>();
        PairDraft.Shared shared = new PairDraft.Shared(study, progress.adaptive(), Map.of(), new SignedRank.Many(),
                entered);
        for (String call : calls) {
            for (Study.CandidatePair pair : study.pairs()) {
                PairDraft.of(shared, metric, call, pair, run -> run.value(metric.of(call))).ifPresent(drafts::add);
            }
        }
        return List.copyOf(PairDraft.hints(drafts, study.question().significance()));
    }

    /** Numbers of the rounds that do not count: disturbed, or left out by hand. */
    public static List<Integer> roundsSetAside(Study study, List<RunRecord> runs) {
        return Admission.of(study, runs).roundsSetAside();
    }

    /** Sentences on what is said otherwise where the rounds that were set aside count, too. */
    public List<String> otherwiseWithAll() {
        return all.stream().flatMap(other -> Stream.concat(
                pairs.stream().filter(PairComparison::deciding).flatMap(one -> other.on(one.metric(), one.baseline(),
                        one.candidate()).filter(two -> two.outcome() != one.outcome()).stream()
                        .map(two -> one.metric().label() + " of " + one.candidate() + " against " + one.baseline()
                                + ": "
                                + two.outcome().words() + " instead of " + one.outcome().words())),
                requirements.stream().flatMap(one -> other.requirements.stream()
                        .filter(two -> two.requirement().equals(one.requirement())
                                && two.candidate().equals(one.candidate()) && two.answer() != one.answer())
                        .map(two -> RequirementResult.words(one.requirement()) + " by " + one.candidate() + ": "
                                + two.answer().words() + " instead of " + one.answer().words()))))
                .toList();
    }

    /** Runs that a candidate ended itself: what it did, by candidate and round. */
    public List<LeftOut> outcomes() {
        return entered.entrySet().stream().flatMap(one -> one.getValue().values().stream())
                .flatMap(run -> run.standing() instanceof Standing.OfCandidate own
                        ? Stream.of(new LeftOut(run.round(), run.candidate(), own.words()))
                        : Stream.empty())
                .toList();
    }

    /** Those that decide first and in the order of the question, then all others, then those of each crowd. */
    public static List<Metric> metrics(Study study) {
        var metrics = new LinkedHashSet<Metric>();
        study.question().deciders().forEach(decider -> metrics.add(decider.metric()));
        metrics.addAll(Metric.all());
        study.measured().ifPresent(one -> one.crowdNames().forEach(crowd -> metrics.addAll(Metric.parts(crowd))));
        return List.copyOf(metrics);
    }

    public List<PairComparison> on(Metric metric) {
        return pairs.stream().filter(pair -> pair.metric().equals(metric)).toList();
    }

    /** The comparison of two candidates on a metric, whichever of them is its baseline. */
    public Optional<PairComparison> on(Metric metric, String one, String other) {
        return on(metric).stream().filter(pair -> Set.of(pair.baseline(), pair.candidate()).equals(Set.of(one, other)))
                .findFirst();
    }

    /** The values that entered of a candidate, by round; without bound where it ended the run itself. */
    public TreeMap<Integer, Double> values(Metric metric, String candidate) {
        var values = new TreeMap<Integer, Double>();
        OptionalDouble common = commonLevel();
        entered.getOrDefault(candidate, Map.of())
                .forEach((round, run) -> ComparisonMaker.value(common, run, metric)
                        .ifPresent(value -> values.put(round, value)));
        return values;
    }

    /** The run of a candidate that entered in a round. */
    Optional<RunRecord> run(String candidate, int round) {
        return Optional.ofNullable(entered.getOrDefault(candidate, Map.of()).get(round));
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
                .filter(was -> was.metric().equals(now.metric()) && was.baseline().equals(now.baseline())
                        && was.candidate().equals(now.candidate()) && was.outcome() != now.outcome())
                .map(was -> now.metric().id() + " of " + now.candidate() + " against " + now.baseline() + ": "
                        + now.outcome().words() + " instead of " + was.outcome().words()))
                .toList();
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

    /** All runs that entered, in the order in which they were measured. */
    public List<RunRecord> inOrder() {
        return inOrder(entered);
    }

    private static List<RunRecord> inOrder(Map<String, Map<Integer, RunRecord>> runs) {
        return runs.values().stream().flatMap(rounds -> rounds.values().stream())
                .sorted(Comparator.comparing(RunRecord::started)).toList();
    }

    /** The sittings in which the rounds that are judged were measured, each with its rounds, in the order of time. */
    public Map<String, List<Integer>> sittings() {
        return inOrderOfTime(entered);
    }

    /** Numbers of the rounds that count and wait for the next look at the study. */
    public List<Integer> waitingRounds() {
        var rounds = new TreeSet<Integer>();
        counted.values().forEach(runs -> rounds.addAll(runs.keySet()));
        entered.values().forEach(runs -> rounds.removeAll(runs.keySet()));
        return List.copyOf(rounds);
    }

    /** The sittings in which all rounds that count were measured, those that wait among them. */
    public Map<String, List<Integer>> allSittings() {
        return inOrderOfTime(counted);
    }

    private static Map<String, List<Integer>> inOrderOfTime(Map<String, Map<Integer, RunRecord>> runs) {
        // by their first rounds, as two starts of a system on one day have no order by name
        var rounds = new LinkedHashMap<String, List<Integer>>();
        ComparisonMaker.sittings(runs)
                .forEach((round, sitting) -> rounds.computeIfAbsent(sitting, _ -> new ArrayList<>()).add(round));
        return rounds;
    }

    /**
     * A pair in one sitting.
     *
     * @param estimate on the scale of the pair's
     */
    public record InSitting(String sitting, int rounds, double estimate) {
    }

    /** A pair sitting by sitting, in the order of time. */
    public List<InSitting> bySitting(PairComparison pair) {
        double[] differences = pair.differences();
        return sittings().entrySet().stream().map(one -> {
            double[] own = java.util.stream.IntStream.range(0, differences.length)
                    .filter(i -> one.getValue().contains(pair.points().get(i).round())).mapToDouble(i -> differences[i])
                    .toArray();
            return new InSitting(one.getKey(), own.length,
                    own.length == 0 ? Double.NaN : pair.metric().scale().shown(BetweenGroups.centre(own)));
        }).filter(one -> one.rounds() > 0).toList();
    }

    /**
     * Runs of an older Kadrem in which calls failed: their percentiles are of the answered calls alone, which the present rules do not
     * take for response times.
     */
    public List<RunRecord> ofOlderRules() {
        return study instanceof FigureStudy
                ? List.of()
                : inOrder().stream().filter(run -> run.identity().seal().isEmpty())
                        .filter(run -> run.figures()
                                .filter(one -> one.due() > one.good() && one.response().lacking() == 0)
                                .isPresent())
                        .toList();
    }

    /** What was changed after the first run that counts began, and after how many rounds; empty where nothing was. */
    public List<String> changedAfterSeal() {
        List<RunRecord> sealed = inOrder(counted).stream().filter(run -> run.identity().seal().isPresent()).toList();
        if (sealed.isEmpty()) {
            return List.of();
        }
        Seal first = sealed.getFirst().identity().seal().orElseThrow();
        long rounds = sealed.stream().filter(run -> run.identity().seal().orElseThrow().equals(first))
                .map(RunRecord::round)
                .distinct().count();
        return first.changesTo(Seal.of(study)).stream()
                .map(change -> change + " after " + rounds + (rounds == 1 ? " round" : " rounds")).toList();
    }
}
