package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.IntPredicate;
import java.util.stream.Stream;

import kadrem.core.measure.RunRecord;
import kadrem.core.plan.Look;
import kadrem.core.stats.SignedRank;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Requirement;
import kadrem.core.study.Study;

/** Makes a comparison of the runs that were admitted: which rounds are judged at this look, and at what level each question is asked. */
final class ComparisonMaker {
    private final Study study;
    private final Admission admission;
    private final boolean all;

    /** @param all whether rounds that were set aside count, too */
    ComparisonMaker(Study study, Admission admission, boolean all) {
        this.study = study;
        this.admission = admission;
        this.all = all;
    }

    Comparison make() {
        Map<String, Map<Integer, RunRecord>> counted = admission.entered(all);
        // rounds that were made since others were disturbed are no looking early: both answers are of the same look
        List<Integer> counting = admission.wholeRounds().stream()
                .filter(round -> !admission.roundsSetAside().contains(round)).toList();
        Map<Integer, String> sittings = sittings(counted);
        List<String> whole = study instanceof FigureStudy ? List.of() : wholeSittings(study, counting, sittings);
        boolean several = whole.size() >= Look.MIN_SITTINGS;
        boolean anyTime = !several && study.plan().isAdaptive();
        double allowed = study.question().significance();
        Look look = several
                ? Look.atSittings(whole.size(), allowed)
                : anyTime || study instanceof FigureStudy
                        ? Look.only(counting.size(), allowed)
                        : Look.last(study.plan().rounds(), counting.size(), allowed);
        IntPredicate judged = judged(study, look, counting, whole, sittings);
        Map<String, Map<Integer, RunRecord>> entered = only(judged, counted);
        int waiting = (int) counting.stream().filter(round -> !judged.test(round)).count();
        int measured = (int) (all ? admission.wholeRounds() : counting).stream().filter(judged::test).count();
        PairDraft.Shared shared = new PairDraft.Shared(study, anyTime, several ? sittings : Map.of(),
                new SignedRank.Many(), entered);
        OptionalDouble common = commonLevel(study, entered);
        var deciding = new ArrayList<PairDraft>();
        var hints = new ArrayList<PairDraft>();
        for (Metric metric : Comparison.metrics(study)) {
            List<PairDraft> to = study.question().decider(metric).isPresent() ? deciding : hints;
            for (Study.CandidatePair pair : study.pairs()) {
                PairDraft.of(shared, metric, "", pair, run -> value(common, run, metric)).ifPresent(to::add);
            }
        }
        List<RequirementResult.Draft> requirements = requirements(entered);
        double significance = look.significance();
        double[] levels = Family.levels(significance,
                Stream.concat(deciding.stream().map(PairDraft::test), requirements.stream()).toList());
        var pairs = new ArrayList<PairComparison>();
        for (int i = 0; i < deciding.size(); i++) {
            pairs.add(deciding.get(i).finish(levels[i], significance, study.question().significance()));
        }
        var results = new ArrayList<RequirementResult>();
        for (int i = 0; i < requirements.size(); i++) {
            results.add(requirements.get(i).finish(levels[deciding.size() + i]));
        }
        pairs.addAll(PairDraft.hints(hints, study.question().significance()));
        return new Comparison(study, counted, entered, List.copyOf(pairs), List.copyOf(results),
                leftOut(counted, judged, look),
                all || admission.setAside().isEmpty()
                        ? Comparison.RoundsSetAside.NONE
                        : new Comparison.RoundsSetAside(admission.roundsSetAside(),
                                admission.setAside().stream().map(Admission.SetAside::sentence).toList(),
                                admission.blindness(study)),
                admission.takenIn(), new Comparison.Progress(measured, waiting, study.plan().most(), anyTime, look),
                Optional.empty());
    }

    private List<RequirementResult.Draft> requirements(Map<String, Map<Integer, RunRecord>> entered) {
        var requirements = new ArrayList<RequirementResult.Draft>();
        // the levels of a search are chosen by the requirements, so that its result says nothing about them
        List<Requirement> required = study.search().isPresent()
                ? List.of()
                : study.question().requirements();
        required.forEach(one -> study.candidates().forEach(candidate -> requirements
                .add(RequirementResult.Draft.of(one, candidate.id(),
                        List.copyOf(entered.getOrDefault(candidate.id(), Map.of()).values()),
                        study.plan().isAdaptive()))));
        return requirements;
    }

    private List<Comparison.LeftOut> leftOut(Map<String, Map<Integer, RunRecord>> counted, IntPredicate judged,
            Look look) {
        List<Comparison.LeftOut> leftOut = new ArrayList<>(admission.notCounted());
        List<Integer> out = all ? List.of() : admission.roundsSetAside();
        admission.runs().forEach((candidate, rounds) -> rounds.keySet().stream().filter(out::contains)
                .forEach(round -> leftOut.add(new Comparison.LeftOut(round, candidate, "its round was set aside"))));
        counted.forEach((candidate, rounds) -> rounds.keySet().stream().filter(round -> !judged.test(round))
                .forEach(round -> leftOut.add(new Comparison.LeftOut(round, candidate,
                        "it waits for the next look at the study, at " + look.nextWords()))));
        return List.copyOf(leftOut);
    }

    /** The sittings that are through, in the order of time: the last one has as many rounds as were planned, or another was begun after it. */
    private static List<String> wholeSittings(Study study, List<Integer> counting, Map<Integer, String> sittings) {
        var rounds = new LinkedHashMap<String, Integer>();
        counting.forEach(round -> rounds.merge(sittings.getOrDefault(round, ""), 1, Integer::sum));
        var whole = new ArrayList<>(rounds.keySet());
        if (!whole.isEmpty() && rounds.getOrDefault(whole.getLast(), 0) < study.plan().rounds()) {
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

    /** The sitting of each round that counts: that of its first run. */
    static Map<Integer, String> sittings(Map<String, Map<Integer, RunRecord>> entered) {
        var first = new TreeMap<Integer, RunRecord>();
        entered.values().forEach(rounds -> rounds.forEach((round, run) -> first.merge(round, run,
                (a, b) -> a.started().isBefore(b.started()) ? a : b)));
        var sittings = new TreeMap<Integer, String>();
        first.forEach((round, run) -> sittings.put(round, run.sitting()));
        return sittings;
    }

    static OptionalDouble commonLevel(Study study, Map<String, Map<Integer, RunRecord>> entered) {
        if (study.search().isEmpty()) {
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
    static OptionalDouble value(OptionalDouble common, RunRecord run, Metric metric) {
        return run.levels().isEmpty() || metric.equals(Metric.THROUGHPUT)
                ? run.value(metric)
                : common.isPresent() ? run.valueAt(common.getAsDouble(), metric) : OptionalDouble.empty();
    }
}
