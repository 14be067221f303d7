package kadrem.core.verdict;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Runs;
import kadrem.core.plan.Look;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Studies;

/**
 * Made-up studies of known truth through the whole of what makes a verdict of records, and how many of them say anything that is false.
 * As a program it makes the table of docs/proof.md: {@code SimulatedStudies [studies a cell] [fixed] [extended] [adaptive] [4x2 …]}, all
 * three and all sizes where none is named, and with {@code power} behind the number the table of the rounds that are planned.
 */
final class SimulatedStudies {
    private static final double MARGIN = 0.05;
    private static final double SIGNIFICANCE = 0.05;
    /** Rounds in a row that a wave strikes. */
    private static final int CLUSTER = 3;
    /** Standard deviation of the logarithm of a run. */
    private static final double OWN = 0.04;
    private static final List<Metric> METRICS = List.of(Metric.P50, Metric.P95, Metric.P99, Metric.CPU_PER_THOUSAND);

    /**
     * How runs scatter, as logarithms about a candidate's own. In clusters, waves of three rounds scatter more or less than others,
     * and what strikes all candidates of a round alike comes on top.
     */
    enum Noise {
        LOGNORMAL, HEAVY_TAILED, CLUSTERED;

        /** @param waves how much more than usual the runs of each round scatter */
        double[][] draw(SplittableRandom random, double[] waves, int metrics) {
            var drawn = new double[waves.length][metrics];
            for (int i = 0; i < waves.length; i++) {
                for (int k = 0; k < metrics; k++) {
                    double own = OWN * random.nextGaussian();
                    drawn[i][k] = switch (this) {
                        case LOGNORMAL -> own;
                        case HEAVY_TAILED -> own / Math.sqrt(-Math.log(1 - random.nextDouble()));
                        case CLUSTERED -> own * waves[i];
                    };
                }
            }
            return drawn;
        }
    }

    /** Differences of the table, in margins. */
    private enum Truth {
        NONE("none", 0, 0), UP("+ margin", 1, 1), DOWN("− margin", -1,
                -1), FIRST("5 margins on the first metric, else none", 5, 0);

        private final String words;
        private final double first;
        private final double others;

        Truth(String words, double first, double others) {
            this.words = words;
            this.first = first;
            this.others = others;
        }
    }

    /** When a study is looked at. */
    enum Stopping {
        /** Once, at the end. */
        FIXED,
        /** At the end, and when the rounds have doubled, and doubled again, while something is not settled. */
        EXTENDED,
        /** After each round. */
        ADAPTIVE;

        /** The numbers of rounds at which a study of so many is looked at. */
        int[] looks(int rounds) {
            return switch (this) {
                case FIXED -> new int[]{rounds};
                case EXTENDED -> new int[]{rounds, 2 * rounds, 4 * rounds};
                case ADAPTIVE -> IntStream.rangeClosed(2, rounds).toArray();
            };
        }
    }

    /**
     * A cell of the table.
     *
     * @param first true logarithm between two candidates that follow on each other on the first metric, in margins
     * @param difference that on the others
     */
    record Cell(int candidates, int metrics, double first, double difference, Noise noise, int rounds,
            Stopping stopping) {
        /** The same difference on all metrics. */
        Cell(int candidates, int metrics, double difference, Noise noise, int rounds, Stopping stopping) {
            this(candidates, metrics, difference, difference, noise, rounds, stopping);
        }

        double difference(Metric metric) {
            return metric.equals(METRICS.getFirst()) ? first : difference;
        }
    }

    /**
     * What came of the studies of a cell.
     *
     * @param settled studies in which something is said of every pair
     * @param near pairs of candidates that follow on each other, over all studies
     * @param right those of which the direction was said rightly, or that nothing matters where there is no difference
     */
    record Rates(int studies, int falseOnes, int settled, int near, int right) {
        double falseShare() {
            return (double) falseOnes / studies;
        }

        /** The chance that a pair whose difference is the margin, or none, is settled rightly. */
        double power() {
            return (double) right / near;
        }

        Rates and(Rates other) {
            return new Rates(studies + other.studies, falseOnes + other.falseOnes, settled + other.settled,
                    near + other.near, right + other.right);
        }
    }

    private SimulatedStudies() {
    }

    static Rates of(Cell cell, int studies, long seed) {
        int falseOnes = 0;
        int settled = 0;
        int near = 0;
        int right = 0;
        for (int i = 0; i < studies; i++) {
            var random = new SplittableRandom(seed * 1_000_003 + i);
            boolean wrong = false;
            boolean all = false;
            List<PairComparison> last = List.of();
            int[] looks = cell.stopping().looks(cell.rounds());
            MeasuredStudy study = study(cell);
            List<RunRecord> runs = runs(cell, study, looks[looks.length - 1], random);
            for (int look = 0; look < looks.length && !all; look++) {
                Comparison comparison = Comparison.of(study, runs.subList(0, looks[look] * cell.candidates()));
                List<PairComparison> deciding = comparison.pairs().stream().filter(PairComparison::deciding).toList();
                wrong |= deciding.stream().anyMatch(pair -> isFalse(pair, cell));
                all = deciding.stream().allMatch(pair -> pair.outcome().isSettled());
                last = deciding;
            }
            List<PairComparison> neighbours = last.stream()
                    .filter(pair -> Math.abs(pair.candidate().charAt(0) - pair.baseline().charAt(0)) == 1).toList();
            near += neighbours.size();
            right += (int) neighbours.stream().filter(pair -> pair.outcome().isSettled() && !isFalse(pair, cell))
                    .count();
            falseOnes += wrong ? 1 : 0;
            settled += all ? 1 : 0;
        }
        return new Rates(studies, falseOnes, settled, near, right);
    }

    private static List<String> ids(int candidates) {
        return IntStream.range(0, candidates).mapToObj(i -> String.valueOf((char) ('a' + i))).toList();
    }

    private static MeasuredStudy study(Cell cell) {
        MeasuredStudy some = Studies.of(ids(cell.candidates()), Studies.OPEN);
        var question = new Question("?", "a", SIGNIFICANCE, METRICS.subList(0, cell.metrics()).stream()
                .map(metric -> new Question.Decider(metric, MARGIN)).toList());
        return new MeasuredStudy(some.name(), question, some.candidates(), some.workload(), some.load(),
                new Plan(cell.rounds(), 1,
                        Duration.ZERO, Duration.ZERO, false,
                        cell.stopping() == Stopping.ADAPTIVE ? OptionalInt.of(cell.rounds()) : OptionalInt.empty()));
    }

    private static List<RunRecord> runs(Cell cell, MeasuredStudy study, int rounds, SplittableRandom random) {
        var waves = new double[rounds];
        for (int round = 0; round < rounds; round++) {
            waves[round] = round % CLUSTER == 0 ? Math.exp(0.7 * random.nextGaussian()) : waves[round - 1];
        }
        var noise = new ArrayList<double[][]>();
        for (int c = 0; c < cell.candidates(); c++) {
            noise.add(cell.noise().draw(random, waves, cell.metrics()));
        }
        var runs = new ArrayList<RunRecord>();
        double cluster = 0;
        for (int round = 0; round < rounds; round++) {
            if (cell.noise() == Noise.CLUSTERED && round % CLUSTER == 0) {
                cluster = 0.3 * random.nextGaussian();
            }
            for (int c = 0; c < cell.candidates(); c++) {
                var values = new double[cell.metrics()];
                for (int k = 0; k < values.length; k++) {
                    values[k] = 20e6 * Math.exp(cluster + c * cell.difference(METRICS.get(k)) * Math.log1p(MARGIN)
                            + noise.get(c)[round][k]);
                }
                runs.add(run(study, ids(cell.candidates()).get(c), round + 1, values));
            }
        }
        return runs;
    }

    private static RunRecord run(MeasuredStudy study, String id, int round, double[] values) {
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
        double truth = (pair.candidate().charAt(0) - pair.baseline().charAt(0)) * cell.difference(pair.metric());
        return switch (pair.outcome()) {
            case BETTER -> !(truth < 0);
            case BETTER_BY_MORE -> !(truth < -1);
            case WORSE -> !(truth > 0);
            case WORSE_BY_MORE -> !(truth > 1);
            case NO_DIFFERENCE_THAT_MATTERS -> !(Math.abs(truth) < 1);
            case NOT_SETTLED -> false;
        };
    }

    private static Rates inParallel(Cell cell, int studies) {
        return IntStream.range(0, 4).parallel().mapToObj(part -> of(cell, studies / 4, 17 + part))
                .reduce(new Rates(0, 0, 0, 0, 0), Rates::and);
    }

    /** The plan of a study whose runs scatter as those of {@link Noise#LOGNORMAL}, of which that is known. */
    static Planning planning(int candidates, int metrics, boolean adaptive) {
        return new Planning(Metric.P95, Metric.P95.margin(MARGIN),
                new Planning.Noise(OWN * Math.sqrt(2), Planning.Noise.Origin.ASSUMED, 0),
                new FamilyPower.Shape(candidates, metrics, 0,
                        adaptive ? SIGNIFICANCE : Look.ofEnd(SIGNIFICANCE), adaptive));
    }

    /** The rounds that a plan asks for, and what so many rounds come to. */
    private static void power(int studies) {
        System.out.println(
                "| candidates × metrics | plan | rounds for the margin | settled | rounds for none | settled |");
        System.out.println("|---|---|---|---|---|---|");
        for (int[] size : new int[][]{{2, 1}, {2, 4}, {3, 1}, {3, 2}, {4, 1}, {4, 4}}) {
            for (boolean adaptive : new boolean[]{false, true}) {
                Planning plan = planning(size[0], size[1], adaptive);
                var line = new StringBuilder(
                        "| " + size[0] + " × " + size[1] + " | " + (adaptive ? "adaptive" : "fixed") + " |");
                for (double difference : new double[]{1, 0}) {
                    int rounds = (difference == 0 ? plan.roundsForNone() : plan.roundsForMargin()).orElseThrow();
                    Rates rates = inParallel(new Cell(size[0], size[1], difference, Noise.LOGNORMAL, rounds,
                            adaptive ? Stopping.ADAPTIVE : Stopping.FIXED), studies);
                    line.append(String.format(Locale.ROOT, " %d | %.1f %% |", rounds, 100 * rates.power()));
                }
                System.out.println(line);
            }
        }
    }

    public static void main(String[] arguments) {
        int studies = arguments.length > 0 ? Integer.parseInt(arguments[0]) : 2_000;
        if (arguments.length > 1 && arguments[1].equals("power")) {
            power(studies);
            return;
        }
        List<String> sizes = Arrays.stream(arguments).skip(1).filter(word -> word.matches("\\dx\\d")).toList();
        List<Stopping> asked = Arrays.stream(arguments).skip(1).filter(word -> !sizes.contains(word))
                .map(word -> Stopping.valueOf(word.toUpperCase(Locale.ROOT))).toList();
        List<Stopping> columns = asked.isEmpty() ? List.of(Stopping.values()) : asked;
        System.out.println("| candidates × metrics | difference | noise | rounds | " + columns.stream()
                .map(one -> one.name().toLowerCase(Locale.ROOT)).collect(Collectors.joining(" | ")) + " |");
        System.out.println("|---|---|---|---|" + "---|".repeat(columns.size()));
        double worst = 0;
        for (int[] size : new int[][]{{2, 1}, {2, 4}, {3, 1}, {3, 2}, {4, 1}, {4, 2}, {4, 4}}) {
            if (!sizes.isEmpty() && !sizes.contains(size[0] + "x" + size[1])) {
                continue;
            }
            for (Truth truth : Truth.values()) {
                for (Noise noise : Noise.values()) {
                    for (int rounds : new int[]{6, 10, 20}) {
                        var line = new StringBuilder(
                                String.format(Locale.ROOT, "| %d × %d | %s | %s | %d |", size[0], size[1],
                                        truth.words,
                                        noise.name().toLowerCase(Locale.ROOT).replace('_', ' '), rounds));
                        for (Stopping stopping : columns) {
                            Rates rates = inParallel(
                                    new Cell(size[0], size[1], truth.first, truth.others, noise, rounds, stopping),
                                    studies);
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
