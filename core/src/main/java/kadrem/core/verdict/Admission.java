package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;

import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Standing;
import kadrem.core.plan.LoadDigest;
import kadrem.core.stats.EvenSpread;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;

/**
 * Which rounds a comparison is made of. A round in which a run was disturbed is set aside for all candidates, never a run alone; what a
 * candidate does to its own run sets nothing aside. Of several tries of a run the last that is a result or was disturbed counts.
 *
 * @param runs what each candidate has in each round, set aside or not, by candidate and round
 * @param setAside rounds that do not count, each with why
 * @param notCounted runs that are no part of a round of this study
 * @param takenIn sentences on disturbed runs that count by hand all the same
 */
record Admission(Map<String, Map<Integer, RunRecord>> runs, List<SetAside> setAside,
        List<Comparison.LeftOut> notCounted, List<String> takenIn) {

    /**
     * A round that does not count.
     *
     * @param candidate whose run was disturbed; empty for a round left out by hand
     * @param why in a clause
     */
    record SetAside(int round, Optional<String> candidate, String why) {
        boolean byHand() {
            return candidate.isEmpty();
        }

        /** "round 3 (pool: 12.4 % of a deciding percentile was the generator's own delay)". */
        String sentence() {
            return "round " + round
                    + candidate.map(id -> " (" + id + ": " + why + ")").orElse(" (by hand: " + why + ")");
        }
    }

    static Admission of(Study study, List<RunRecord> all) {
        String digest = LoadDigest.of(study);
        var runs = new TreeMap<String, Map<Integer, RunRecord>>();
        study.candidates().forEach(candidate -> runs.put(candidate.id(), new TreeMap<>()));
        var notCounted = new ArrayList<Comparison.LeftOut>();
        for (RunRecord each : all) {
            RunRecord run = each.judgedUnder(study.judgement());
            Optional<String> why = study.candidate(run.candidate()).isEmpty()
                    ? Optional.of("not a candidate of the study any more")
                    : !run.studyDigest().equals(digest)
                            ? Optional.of("measured with another workload or load than the study has now")
                            : run.standing() instanceof Standing.NotMade(String words)
                                    ? Optional.of(words)
                                    : Optional.empty();
            if (why.isPresent()) {
                notCounted.add(new Comparison.LeftOut(run.round(), run.candidate(), why.get()));
            } else {
                runs.computeIfAbsent(run.candidate(), _ -> new TreeMap<>()).merge(run.round(), run,
                        (a, b) -> a.started().isAfter(b.started()) ? a : b);
            }
        }
        var setAside = new ArrayList<SetAside>();
        var takenIn = new ArrayList<String>();
        study.judgement().leftOut()
                .forEach(one -> setAside.add(new SetAside(one.round(), Optional.empty(), one.reason())));
        runs.values().stream().flatMap(rounds -> rounds.values().stream()).forEach(run -> {
            if (run.standing() instanceof Standing.Disturbed disturbed) {
                Optional<String> reason = study.judgement().reason(run.id());
                reason.ifPresentOrElse(
                        one -> takenIn.add("round " + run.round() + ", " + run.candidate()
                                + ": taken in by hand, though " + disturbed.words() + ": " + one),
                        () -> setAside.add(new SetAside(run.round(), Optional.of(run.candidate()), disturbed.words())));
            }
        });
        setAside.sort(java.util.Comparator.comparingInt(SetAside::round));
        return new Admission(runs, List.copyOf(setAside), List.copyOf(notCounted), List.copyOf(takenIn));
    }

    /** What counts, by candidate and round. */
    Map<String, Map<Integer, RunRecord>> entered(boolean all) {
        if (all) {
            return runs;
        }
        List<Integer> out = setAside.stream().map(SetAside::round).toList();
        var entered = new TreeMap<String, Map<Integer, RunRecord>>();
        runs.forEach((candidate, rounds) -> entered.put(candidate,
                rounds.entrySet().stream().filter(one -> !out.contains(one.getKey())).collect(Collectors
                        .toMap(Map.Entry::getKey, Map.Entry::getValue, (a, _) -> a, TreeMap::new))));
        return entered;
    }

    /** Rounds in which every candidate has a run that counts or was disturbed. */
    List<Integer> wholeRounds() {
        return runs.values().stream().flatMap(rounds -> rounds.keySet().stream())
                .collect(Collectors.groupingBy(round -> round, TreeMap::new, Collectors.counting())).entrySet().stream()
                .filter(one -> one.getValue() == runs.size()).map(Map.Entry::getKey).toList();
    }

    /** Rounds, by number, that were set aside. */
    List<Integer> roundsSetAside() {
        return setAside.stream().map(SetAside::round).distinct().toList();
    }

    /**
     * The probability that disturbances fall on the candidates as unevenly as they did, if they struck blindly; empty where there was
     * none.
     */
    Optional<Double> blindness(Study study) {
        int[] counts = study.candidates().stream().map(Candidate::id)
                .mapToInt(id -> (int) setAside.stream().filter(one -> one.candidate().filter(id::equals).isPresent())
                        .count())
                .toArray();
        return java.util.Arrays.stream(counts).sum() == 0 ? Optional.empty() : Optional.of(EvenSpread.p(counts));
    }
}
