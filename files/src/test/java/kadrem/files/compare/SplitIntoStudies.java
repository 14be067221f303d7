package kadrem.files.compare;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

import kadrem.core.measure.RunRecord;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Outcome;
import kadrem.core.verdict.PairComparison;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyFile;

/**
 * Takes the rounds of one long study for as many short ones, which follow on each other, and counts what each would have said. Usage:
 * {@code SplitIntoStudies STUDY ROUNDS}. The tables of docs/proof.md are made with it.
 */
final class SplitIntoStudies {
    private SplitIntoStudies() {
    }

    public static void main(String[] arguments) throws Exception {
        Path folder = Path.of(arguments[0]);
        int rounds = Integer.parseInt(arguments[1]);
        MeasuredStudy whole = StudyFile.read(folder).measured();
        List<RunRecord> runs = new RunFolders(folder).runs();
        Set<Integer> aside = Set.copyOf(Comparison.roundsSetAside(whole, runs));
        List<Integer> counting = runs.stream().map(RunRecord::round).distinct().sorted()
                .filter(round -> !aside.contains(round)).toList();
        Study study = new MeasuredStudy(whole.name(), whole.question(), whole.candidates(), whole.workload(),
                whole.load(),
                new Plan(rounds, whole.plan().seed(), whole.plan().pause()), whole.agreement(), whole.intended(),
                whole.judgement());
        for (boolean all : new boolean[]{false, true}) {
            List<Integer> used = all
                    ? runs.stream().map(RunRecord::round).distinct().sorted().toList()
                    : counting;
            Map<Outcome, Integer> outcomes = new TreeMap<>();
            var estimates = new ArrayList<Double>();
            for (int first = 0; first + rounds <= used.size(); first += rounds) {
                Set<Integer> own = Set.copyOf(used.subList(first, first + rounds));
                Comparison comparison = Comparison.of(study,
                        runs.stream().filter(run -> own.contains(run.round())).toList());
                PairComparison pair = (all ? comparison.all().orElse(comparison) : comparison).on(Metric.P50)
                        .getFirst();
                outcomes.merge(pair.outcome(), 1, Integer::sum);
                estimates.add(pair.estimate());
            }
            double[] sorted = estimates.stream().mapToDouble(Double::doubleValue).sorted().toArray();
            System.out.printf(Locale.ROOT, "%s: %d studies, %s; estimates %.3f to %.3f, middle %.3f%n",
                    all ? "all rounds" : "rounds that count", sorted.length, outcomes, sorted[0],
                    sorted[sorted.length - 1], sorted[sorted.length / 2]);
        }
        System.out.printf(Locale.ROOT, "%d rounds, %d set aside: %s%n", counting.size() + aside.size(), aside.size(),
                Arrays.toString(aside.stream().sorted().limit(20).toArray()));
    }
}
