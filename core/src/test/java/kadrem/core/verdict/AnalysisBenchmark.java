package kadrem.core.verdict;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.SplittableRandom;
import java.util.stream.IntStream;

import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.PartFigures;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Runs;
import kadrem.core.stats.StudentisedBootstrap;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Studies;

/**
 * Time of the whole analysis of ten candidates in a hundred rounds on twelve metrics (the eight of runs and four of a call), with
 * second opinions of each of the 540 comparisons; and, for reference, of the bootstrap alone.
 */
final class AnalysisBenchmark {
    private AnalysisBenchmark() {
    }

    public static void main(String[] arguments) {
        MeasuredStudy some = Studies.of(IntStream.range(0, 10).mapToObj(i -> "c" + i).toList(), Studies.OPEN,
                new Question.Decider(Metric.P99, 0.1));
        for (OptionalInt adaptive : List.of(OptionalInt.empty(), OptionalInt.of(100))) {
            System.out.println(adaptive.isPresent() ? "an adaptive plan" : "a fixed plan");
            analyse(new MeasuredStudy(some.name(), some.question(), some.candidates(), some.workload(), some.load(),
                    new Plan(100, 1, Duration.ZERO, Duration.ZERO, false, adaptive)));
        }
    }

    private static void analyse(MeasuredStudy study) {
        var random = new SplittableRandom(1);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 100; round++) {
            for (var candidate : study.candidates()) {
                runs.add(run(study, candidate.id(), round, random));
            }
        }
        for (int i = 0; i < 5; i++) {
            long begun = System.nanoTime();
            Comparison comparison = Comparison.of(study, runs);
            List<PairComparison> all = new ArrayList<>(comparison.pairs());
            Comparison.OF_CALLS.forEach(metric -> all.addAll(comparison.byCall(metric)));
            double compared = (System.nanoTime() - begun) / 1e9;
            StudentisedBootstrap resamples = StudentisedBootstrap.of(100, 1);
            int disagree = 0;
            for (PairComparison pair : all) {
                disagree += SecondOpinions.of(pair, resamples, 0.05).disagreements().size();
            }
            double whole = (System.nanoTime() - begun) / 1e9;
            System.out.println(String.format(Locale.ROOT,
                    "%d comparisons: %.2f s, with second opinions %.2f s (%d disagreements)", all.size(), compared,
                    whole,
                    disagree));
        }
    }

    private static RunRecord run(MeasuredStudy study, String candidate, int round, SplittableRandom random) {
        RunFigures some = Runs.complete(study, candidate, round, 1_000_000, 0).figures().orElseThrow();
        double p50 = 1e6 * (1 + 0.1 * random.nextDouble());
        double p95 = 3e6 * (1 + 0.1 * random.nextDouble());
        double p99 = 9e6 * (1 + 0.2 * random.nextDouble());
        double mean = 2e6 * (1 + 0.1 * random.nextDouble());
        var latency = new LatencySummary(10_000, mean, Math.round(p50), 1, Math.round(p95), Math.round(p99), 1, 1);
        var figures = new RunFigures(some.sent(), some.good(), some.failed(), some.unsent(), some.seconds(),
                10_000 + random.nextInt(300), 1, 1, latency, latency, latency,
                OptionalDouble.of(1_000 * random.nextDouble()), OptionalDouble.of(1e8 * (1 + random.nextDouble())),
                List.of(new PartFigures("one", 1, 1, Map.of(), latency, latency)));
        return Runs.record(study, candidate, round, RunOutcome.COMPLETE, Optional.of(figures));
    }
}
