package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.Arrays;
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
import java.util.function.Function;
import java.util.function.IntPredicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Standing;
import kadrem.core.plan.Look;
import kadrem.core.stats.BetweenGroups;
import kadrem.core.stats.Friedman;
import kadrem.core.stats.LocationTest;
import kadrem.core.stats.PairedMean;
import kadrem.core.stats.SignedRank;
import kadrem.core.stats.SymmetryMartingale;
import kadrem.core.study.Candidate;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Requirement;
import kadrem.core.study.Seal;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Study;

/**
 * The comparison of all candidates on all metrics, and of each with what is asked of it. The unit is a run, the block is a round.
 * <p>
 * Pairs on deciding metrics and requirements are one {@link Family}: the chance that anything said of them is false is at most the
 * significance. A metric that does not decide is a hint beside the decision; its intervals are adjusted over its own pairs, and over
 * its calls where it is looked at by call.
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
                : Optional.of(of(study, admission, true));
        Comparison counted = of(study, admission, false);
        return new Comparison(study, counted.counted, counted.entered, counted.pairs, counted.requirements,
                counted.leftOut,
                counted.setAside, counted.takenIn, counted.progress, all);
    }

    private static Comparison of(Study study, Admission admission, boolean all) {
        Map<String, Map<Integer, RunRecord>> counted = admission.entered(all);
        List<Integer> out = all ? List.of() : admission.roundsSetAside();
        // rounds that were made since others were disturbed are no looking early: both answers are of the same look
        List<Integer> counting = admission.wholeRounds().stream()
                .filter(round -> !admission.roundsSetAside().contains(round)).toList();
        Map<Integer, String> sittings = sittings(counted);
        List<String> whole = study.isElsewhere() ? List.of() : wholeSittings(study, counting, sittings);
        boolean several = whole.size() >= Look.FEWEST_SITTINGS;
        boolean anyTime = !several && study.plan().isAdaptive();
        double allowed = study.question().significance();
        Look look = several
                ? Look.atSittings(whole.size(), allowed)
                : anyTime || study.isElsewhere()
                        ? Look.only(counting.size(), allowed)
                        : Look.last(study.plan().rounds(), counting.size(), allowed);
        IntPredicate judged = judged(study, look, counting, whole, sittings);
        Map<String, Map<Integer, RunRecord>> entered = only(judged, counted);
        int waiting = (int) counting.stream().filter(round -> !judged.test(round)).count();
        int measured = (int) (all ? admission.wholeRounds() : counting).stream().filter(judged::test).count();
        Frame frame = new Frame(study, anyTime, several ? sittings : Map.of(), new SignedRank.Many(), entered);
        OptionalDouble common = commonLevel(study, entered);
        var deciding = new ArrayList<Draft>();
        var hints = new ArrayList<Draft>();
        for (Metric metric : metrics(study.question())) {
            List<Draft> to = study.question().decider(metric).isPresent() ? deciding : hints;
            for (Study.CandidatePair pair : study.pairs()) {
                Draft.of(frame, metric, "", pair, run -> value(common, run, metric)).ifPresent(to::add);
            }
        }
        var requirements = new ArrayList<RequirementResult.Draft>();
        // the levels of a search are chosen by the requirements, so that its result says nothing about them
        List<Requirement> required = study.load().course().search().isPresent()
                ? List.of()
                : study.question().requirements();
        required.forEach(one -> study.candidates().forEach(candidate -> requirements
                .add(RequirementResult.Draft.of(one, candidate.id(),
                        List.copyOf(entered.getOrDefault(candidate.id(), Map.of()).values()),
                        study.plan().isAdaptive()))));
        double significance = look.significance();
        double[] levels = Family.levels(significance,
                Stream.concat(deciding.stream().map(Draft::test), requirements.stream()).toList());
        var pairs = new ArrayList<PairComparison>();
        for (int i = 0; i < deciding.size(); i++) {
            pairs.add(deciding.get(i).finish(levels[i], significance, study.question().significance()));
        }
        var results = new ArrayList<RequirementResult>();
        for (int i = 0; i < requirements.size(); i++) {
            results.add(requirements.get(i).finish(levels[deciding.size() + i]));
        }
        pairs.addAll(hints(hints, study.question().significance()));
        List<LeftOut> leftOut = new ArrayList<>(admission.notCounted());
        admission.runs().forEach((candidate, rounds) -> rounds.keySet().stream().filter(out::contains)
                .forEach(round -> leftOut.add(new LeftOut(round, candidate, "its round was set aside"))));
        counted.forEach((candidate, rounds) -> rounds.keySet().stream().filter(round -> !judged.test(round))
                .forEach(round -> leftOut.add(new LeftOut(round, candidate,
                        "it waits for the next look at the study, at " + look.nextWords()))));
        return new Comparison(study, counted, entered, List.copyOf(pairs), List.copyOf(results), List.copyOf(leftOut),
                all || admission.setAside().isEmpty()
                        ? RoundsSetAside.NONE
                        : new RoundsSetAside(admission.roundsSetAside(),
                                admission.setAside().stream().map(Admission.SetAside::sentence).toList(),
                                admission.blindness(study)),
                admission.takenIn(), new Progress(measured, waiting, study.plan().most(), anyTime, look),
                Optional.empty());
    }

    /** The sittings that are through, in the order of time: the last one has as many rounds as were planned, or another was begun after it. */
    private static List<String> wholeSittings(Study study, List<Integer> counting, Map<Integer, String> sittings) {
        var rounds = new LinkedHashMap<String, Integer>();
        counting.forEach(round -> rounds.merge(sittings.getOrDefault(round, ""), 1, Integer::sum));
        var whole = new ArrayList<>(rounds.keySet());
        if (!whole.isEmpty() && rounds.get(whole.getLast()) < study.plan().rounds()) {
            whole.removeLast();
        }
        return List.copyOf(whole);
    }

    /** Which rounds are judged at a look; the others wait for the next one. */
    private static IntPredicate judged(Study study, Look look, List<Integer> counting, List<String> wholeSittings,
            Map<Integer, String> sittings) {
        if (look.isOfSittings()) {
            Set<String> looked = Set.copyOf(wholeSittings.subList(0, look.count()));
            return round -> looked.contains(sittings.getOrDefault(round, ""));
        }
        boolean through = look.isOneOfSeveral() && counting.size() >= study.plan().rounds();
        int last = through ? counting.get(look.count() - 1) : Integer.MAX_VALUE;
        return round -> round <= last;
    }

    private static Map<String, Map<Integer, RunRecord>> only(IntPredicate judged,
            Map<String, Map<Integer, RunRecord>> runs) {
        var kept = new TreeMap<String, Map<Integer, RunRecord>>();
        runs.forEach((candidate, rounds) -> {
            var own = new TreeMap<>(rounds);
            own.keySet().removeIf(round -> !judged.test(round));
            kept.put(candidate, own);
        });
        return kept;
    }

    /**
     * The highest level of a search that every run took; candidates are compared at it, since p95 at 320 users and p95 at 80 are two
     * things. Empty where nothing is searched, or no level is common.
     */
    public OptionalDouble commonLevel() {
        return commonLevel(study, entered);
    }

    private static OptionalDouble commonLevel(Study study, Map<String, Map<Integer, RunRecord>> entered) {
        if (study.load().course().search().isEmpty()) {
            return OptionalDouble.empty();
        }
        List<Set<Double>> taken = entered.values().stream().flatMap(rounds -> rounds.values().stream())
                .filter(RunRecord::hasWholeFigures).map(RunRecord::levelsTaken).toList();
        return taken.isEmpty()
                ? OptionalDouble.empty()
                : taken.getFirst().stream().filter(level -> taken.stream().allMatch(one -> one.contains(level)))
                        .mapToDouble(Double::doubleValue).max();
    }

    /** Of a search: the capacity, or the value at the common level. */
    private static OptionalDouble value(OptionalDouble common, RunRecord run, Metric metric) {
        return run.levels().isEmpty() || metric == Metric.THROUGHPUT
                ? run.value(metric)
                : common.isPresent() ? run.valueAt(common.getAsDouble(), metric) : OptionalDouble.empty();
    }

    /** Metrics that do not decide: each over its own pairs, and calls. */
    private static List<PairComparison> hints(List<Draft> drafts, double significance) {
        var pairs = new ArrayList<PairComparison>();
        Map<Metric, List<Draft>> families = drafts.stream()
                .collect(Collectors.groupingBy(Draft::metric, java.util.LinkedHashMap::new, Collectors.toList()));
        for (List<Draft> family : families.values()) {
            double[] levels = Family.even(significance, family.size());
            for (int i = 0; i < levels.length; i++) {
                pairs.add(family.get(i).finish(levels[i], significance, significance));
            }
        }
        return pairs;
    }

    /**
     * The pairs call by call, adjusted over all calls and pairs of the metric. Many comparisons at once: a call that stands out
     * in one study should be asked about in another.
     */
    public List<PairComparison> byCall(Metric metric) {
        Set<String> calls = new LinkedHashSet<>();
        entered.values().forEach(rounds -> rounds.values().forEach(run -> run.figures().stream()
                .flatMap(figures -> figures.calls().stream()).forEach(call -> calls.add(call.name()))));
        var drafts = new ArrayList<Draft>();
        Frame frame = new Frame(study, progress.adaptive(), Map.of(), new SignedRank.Many(), entered);
        for (String call : calls) {
            for (Study.CandidatePair pair : study.pairs()) {
                Draft.of(frame, metric, call, pair, run -> run.value(metric, call)).ifPresent(drafts::add);
            }
        }
        return List.copyOf(hints(drafts, study.question().significance()));
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

    /** The values that entered of a candidate, by round; without bound where it ended the run itself. */
    public TreeMap<Integer, Double> values(Metric metric, String candidate) {
        var values = new TreeMap<Integer, Double>();
        OptionalDouble common = commonLevel();
        entered.getOrDefault(candidate, Map.of())
                .forEach((round, run) -> value(common, run, metric).ifPresent(value -> values.put(round, value)));
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

    /**
     * What all pairs of a comparison share.
     *
     * @param sittings of rounds, where there are enough of them to be the unit; else empty
     */
    private record Frame(Study study, boolean anyTime, Map<Integer, String> sittings, SignedRank.Many ranks,
            Map<String, Map<Integer, RunRecord>> runs) {
    }

    /** The sitting of each round that counts: that of its first run. */
    private static Map<Integer, String> sittings(Map<String, Map<Integer, RunRecord>> entered) {
        var first = new TreeMap<Integer, RunRecord>();
        entered.values().forEach(rounds -> rounds.forEach((round, run) -> first.merge(round, run,
                (a, b) -> a.started().isBefore(b.started()) ? a : b)));
        var sittings = new TreeMap<Integer, String>();
        first.forEach((round, run) -> sittings.put(round, run.sitting()));
        return sittings;
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
        sittings(runs)
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
                    own.length == 0 ? Double.NaN : pair.shown(BetweenGroups.centre(own)));
        }).filter(one -> one.rounds() > 0).toList();
    }

    /**
     * Runs of an older Kadrem in which calls failed: their percentiles are of the answered calls alone, which the present rules do not
     * take for response times.
     */
    public List<RunRecord> ofOlderRules() {
        return study.isElsewhere()
                ? List.of()
                : inOrder().stream().filter(run -> run.seal().isEmpty())
                        .filter(run -> run.figures()
                                .filter(one -> one.due() > one.good() && one.response().lacking() == 0)
                                .isPresent())
                        .toList();
    }

    /** What was changed after the first run that counts began, and after how many rounds; empty where nothing was. */
    public List<String> changedAfterSeal() {
        List<RunRecord> sealed = inOrder(counted).stream().filter(run -> run.seal().isPresent()).toList();
        if (sealed.isEmpty()) {
            return List.of();
        }
        Seal first = sealed.getFirst().seal().orElseThrow();
        long rounds = sealed.stream().filter(run -> run.seal().orElseThrow().equals(first)).map(RunRecord::round)
                .distinct().count();
        return first.changesTo(Seal.of(study)).stream()
                .map(change -> change + " after " + rounds + (rounds == 1 ? " round" : " rounds")).toList();
    }

    /** A pair before it has its level. */
    private record Draft(Metric metric, String call, boolean deciding, Study.CandidatePair pair,
            List<PairComparison.Point> points, PairTest test) {

        /** @return empty where no round has both */
        static Optional<Draft> of(Frame frame, Metric metric, String call, Study.CandidatePair pair,
                Function<RunRecord, OptionalDouble> value) {
            Study study = frame.study();
            Map<String, Map<Integer, RunRecord>> runs = frame.runs();
            var points = new ArrayList<PairComparison.Point>();
            long ofBaseline = 0;
            long ofCandidate = 0;
            Map<Integer, RunRecord> candidateRuns = runs.getOrDefault(pair.candidate(), Map.of());
            for (Map.Entry<Integer, RunRecord> entry : runs.getOrDefault(pair.baseline(), Map.of()).entrySet()) {
                RunRecord other = candidateRuns.get(entry.getKey());
                OptionalDouble baseline = value.apply(entry.getValue());
                OptionalDouble candidate = other == null ? OptionalDouble.empty() : value.apply(other);
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
            double margin = decider.map(Question.Decider::margin).orElse(metric.usualMargin());
            double[] differences = PairComparison.differences(metric, points);
            return Optional.of(new Draft(metric, call, decider.isPresent() && call.isEmpty(), pair,
                    List.copyOf(points), new PairTest(metric.scale(), metric.higherIsBetter(), margin,
                            test(frame, metric, points, differences, Math.min(ofBaseline, ofCandidate)))));
        }

        private static LocationTest test(Frame frame, Metric metric, List<PairComparison.Point> points,
                double[] differences, long calls) {
            if (!frame.sittings().isEmpty()) {
                var groups = new TreeMap<String, List<Double>>();
                for (int i = 0; i < differences.length; i++) {
                    groups.computeIfAbsent(frame.sittings().getOrDefault(points.get(i).round(), ""),
                            _ -> new ArrayList<>()).add(differences[i]);
                }
                Optional<BetweenGroups> between = BetweenGroups.of(groups.values().stream()
                        .map(group -> group.stream().mapToDouble(Double::doubleValue).toArray())
                        .toArray(double[][]::new));
                if (between.isPresent()) {
                    return between.get();
                }
            }
            if (frame.anyTime()) {
                return SymmetryMartingale.of(differences);
            }
            Optional<PairedMean> mean = metric == Metric.ERROR_SHARE
                    ? PairedMean.of(calls, differences)
                    : Optional.empty();
            return mean.isPresent() ? mean.get() : frame.ranks().of(differences);
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
    }
}
