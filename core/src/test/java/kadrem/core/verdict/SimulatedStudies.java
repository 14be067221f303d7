package kadrem.core.verdict;

import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.SplittableRandom;
import java.util.stream.IntStream;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Runs;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Studies;
import kadrem.core.study.Study;

/**
 * Made-up studies of known truth through the whole of what makes a verdict of records, and how many of them say anything that is false.
 * As a program it makes the table of docs/proof.md: {@code SimulatedStudies [studies a cell]}.
 */
final class SimulatedStudies {
    private static final double MARGIN = 0.05;
    private static final double SIGNIFICANCE = 0.05;
    private static final List<Metric> METRICS = List.of(Metric.P50, Metric.P95, Metric.P99, Metric.CPU_PER_THOUSAND);

    /** How runs scatter, as logarithms about a candidate's own; what a round does to all comes on top. */
    enum Noise {
        LOGNORMAL, HEAVY_TAILED, CLUSTERED;

        double[][] draw(SplittableRandom random, int runs, int metrics) {
            var drawn = new double[runs][metrics];
            double[] cluster = new double[metrics];
            for (int i = 0; i < runs; i++) {
                for (int k = 0; k < metrics; k++) {
                    double own = 0.04 * random.nextGaussian();
                    if (i % 3 == 0) {
                        cluster[k] = 0.1 * random.nextGaussian();
                    }
                    drawn[i][k] = switch (this) {
                        case LOGNORMAL -> own;
                        case HEAVY_TAILED -> own / Math.sqrt(-Math.log(1 - random.nextDouble()));
                        case CLUSTERED -> own;
                    };
                }
            }
            return drawn;
        }
    }

    /** When a study is looked at. */
    enum Stopping {
        /** Once, at the end. */
        FIXED,
        /** At the end, and after each of as many rounds again while something is not settled. */
        EXTENDED,
        /** After each round. */
        ADAPTIVE
    }

    /**
     * A cell of the table.
     *
     * @param difference true logarithm between two candidates that follow on each other, in margins
     */
    record Cell(int candidates, int metrics, double difference, Noise noise, int rounds, Stopping stopping) {
    }

    /** What came of the studies of a cell. */
    record Rates(int studies, int falseOnes, int settled) {
        double falseShare() {
            return (double) falseOnes / studies;
        }
    }

    private SimulatedStudies() {
    }

    static Rates of(Cell cell, int studies, long seed) {
        int falseOnes = 0;
        int settled = 0;
        for (int i = 0; i < studies; i++) {
            var random = new SplittableRandom(seed * 1_000_003 + i);
            boolean wrong = false;
            boolean all = false;
            int most = cell.stopping() == Stopping.EXTENDED ? 2 * cell.rounds() : cell.rounds();
            Study study = study(cell);
            List<RunRecord> runs = runs(cell, study, most, random);
            for (int rounds = cell.stopping() == Stopping.ADAPTIVE ? 2 : cell.rounds(); rounds <= most
                    && !all; rounds++) {
                Comparison comparison = Comparison.of(study, runs.subList(0, rounds * cell.candidates()));
                List<PairComparison> deciding = comparison.pairs().stream().filter(PairComparison::deciding).toList();
                wrong |= deciding.stream().anyMatch(pair -> isFalse(pair, cell));
                all = deciding.stream().allMatch(pair -> pair.outcome().isSettled());
            }
            falseOnes += wrong ? 1 : 0;
            settled += all ? 1 : 0;
        }
        return new Rates(studies, falseOnes, settled);
    }

    private static List<String> ids(int candidates) {
        return IntStream.range(0, candidates).mapToObj(i -> String.valueOf((char) ('a' + i))).toList();
    }

    private static Study study(Cell cell) {
        Study some = Studies.of(ids(cell.candidates()), Studies.OPEN);
        var question = new Question("?", "a", SIGNIFICANCE, METRICS.subList(0, cell.metrics()).stream()
                .map(metric -> new Question.Decider(metric, MARGIN)).toList());
        return new Study(some.name(), question, some.candidates(), some.workload(), some.load(),
                new Plan(cell.rounds(), 1,
                        Duration.ZERO, Duration.ZERO, false,
                        cell.stopping() == Stopping.ADAPTIVE ? OptionalInt.of(cell.rounds()) : OptionalInt.empty()));
    }

    private static List<RunRecord> runs(Cell cell, Study study, int rounds, SplittableRandom random) {
        var noise = new ArrayList<double[][]>();
        for (int c = 0; c < cell.candidates(); c++) {
            noise.add(cell.noise().draw(random, rounds, cell.metrics()));
        }
        var runs = new ArrayList<RunRecord>();
        double cluster = 0;
        for (int round = 0; round < rounds; round++) {
            if (cell.noise() == Noise.CLUSTERED && round % 3 == 0) {
                cluster = 0.3 * random.nextGaussian();
            }
            for (int c = 0; c < cell.candidates(); c++) {
                var values = new double[cell.metrics()];
                for (int k = 0; k < values.length; k++) {
                    values[k] = 20e6 * Math.exp(cluster + c * cell.difference() * Math.log1p(MARGIN)
                            + noise.get(c)[round][k]);
                }
                runs.add(run(study, ids(cell.candidates()).get(c), round + 1, values));
            }
        }
        return runs;
    }

    private static RunRecord run(Study study, String id, int round, double[] values) {
        double[] all = new double[METRICS.size()];
        for (int k = 0; k < all.length; k++) {
            all[k] = k < values.length ? values[k] : 1e6;
        }
        var latency = new LatencySummary(10_000, all[0], Math.round(all[0]), 1, Math.round(all[1]), Math.round(all[2]),
                1, 1);
        Map<FailureKind, Long> failed = new EnumMap<>(FailureKind.class);
        var figures = new RunFigures(10_000, 10_000, failed, 0, 10, 10_000, 1, 1, latency, latency, latency,
                OptionalDouble.of(all[3]), OptionalDouble.empty(), List.of());
        return Runs.record(study, id, round, RunOutcome.COMPLETE, Optional.of(figures));
    }

    /** Whether anything that is said of a pair is not so. */
    private static boolean isFalse(PairComparison pair, Cell cell) {
        double truth = (pair.candidate().charAt(0) - pair.baseline().charAt(0)) * cell.difference();
        return switch (pair.outcome()) {
            case BETTER -> !(truth < 0);
            case BETTER_BY_MORE -> !(truth < -1);
            case WORSE -> !(truth > 0);
            case WORSE_BY_MORE -> !(truth > 1);
            case NO_DIFFERENCE_THAT_MATTERS -> !(Math.abs(truth) < 1);
            case NOT_SETTLED -> false;
        };
    }

    public static void main(String[] arguments) {
        int studies = arguments.length > 0 ? Integer.parseInt(arguments[0]) : 2_000;
        System.out.println("| candidates × metrics | difference | noise | rounds | fixed | extended | adaptive |");
        System.out.println("|---|---|---|---|---|---|---|");
        double worst = 0;
        for (int[] size : new int[][]{{2, 1}, {2, 4}, {3, 1}, {3, 2}, {4, 1}, {4, 2}, {4, 4}}) {
            for (double difference : new double[]{0, 1, -1}) {
                for (Noise noise : Noise.values()) {
                    for (int rounds : new int[]{6, 10, 20}) {
                        var line = new StringBuilder(
                                String.format(Locale.ROOT, "| %d × %d | %s | %s | %d |", size[0], size[1],
                                        difference == 0 ? "none" : difference > 0 ? "+ margin" : "− margin",
                                        noise.name().toLowerCase(Locale.ROOT).replace('_', ' '), rounds));
                        for (Stopping stopping : Stopping.values()) {
                            Rates rates = IntStream.range(0, 4).parallel()
                                    .mapToObj(
                                            part -> of(new Cell(size[0], size[1], difference, noise, rounds, stopping),
                                                    studies / 4, 17 + part))
                                    .reduce(new Rates(0, 0, 0), (a, b) -> new Rates(a.studies() + b.studies(),
                                            a.falseOnes() + b.falseOnes(), a.settled() + b.settled()));
                            worst = Math.max(worst, rates.falseShare());
                            line.append(String.format(Locale.ROOT, " %.1f %% (%.0f) |", rates.falseShare() * 100,
                                    100.0 * rates.settled() / rates.studies()));
                        }
                        System.out.println(line);
                    }
                }
            }
        }
        System.out.printf(Locale.ROOT, "worst cell: %.2f %%%n", worst * 100);
    }
}
