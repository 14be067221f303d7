package kadrem.core.scaling;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;

import kadrem.core.measure.LevelResult;
import kadrem.core.measure.RunRecord;
import kadrem.core.stats.PercentileInterval;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Study;
import kadrem.core.study.Written;

/**
 * What the ladders of a candidate showed.
 *
 * @param rounds sound levels and their throughput, one list a run
 * @param capacities what each run could do, in calls a second: the throughput of the level that stands for it
 * @param fit the scalability law, where users wait for answers and the levels are enough
 */
public record LadderResult(String candidate, List<List<ScalabilityFit.Point>> rounds, List<Double> capacities,
        Optional<ScalabilityFit> fit) {
    private static final int SECONDS_A_MINUTE = 60;
    private static final double CONFIDENCE = 0.95;

    public LadderResult {
        rounds = List.copyOf(rounds);
        capacities = List.copyOf(capacities);
    }

    /** The ladders of each candidate of some runs; empty where they have one level of load. */
    public static List<LadderResult> of(Study study, List<RunRecord> runs) {
        Map<String, List<List<ScalabilityFit.Point>>> rounds = new LinkedHashMap<>();
        Map<String, List<Double>> capacities = new LinkedHashMap<>();
        for (RunRecord run : runs) {
            List<ScalabilityFit.Point> points = points(run.levels());
            if (!points.isEmpty()) {
                rounds.computeIfAbsent(run.candidate(), _ -> new ArrayList<>()).add(points);
                List<Double> known = capacities.computeIfAbsent(run.candidate(), _ -> new ArrayList<>());
                run.figures().ifPresent(figures -> known.add(figures.throughput()));
            }
        }
        return rounds.entrySet().stream().map(entry -> new LadderResult(entry.getKey(), entry.getValue(),
                capacities.getOrDefault(entry.getKey(), List.of()), isOfUsers(study)
                        ? ScalabilityFit.of(entry.getValue().stream().flatMap(List::stream).toList())
                        : Optional.empty()))
                .toList();
    }

    /** Whether levels are numbers of users, and not arrivals a second. */
    public static boolean isOfUsers(Study study) {
        return study.measured().filter(one -> one.load() instanceof LoadProfile.Closed).isPresent();
    }

    private static List<ScalabilityFit.Point> points(List<LevelResult> levels) {
        return levels.stream().filter(level -> level.figures().isPresent() && level.isSound())
                .map(level -> new ScalabilityFit.Point(level.level(), level.figures().get().throughput())).toList();
    }

    /**
     * Bounds of the median capacity over rounds (order statistics, Hahn & Meeker 1991): the lower, the upper, and the confidence that so
     * many rounds reach; empty below six rounds.
     */
    public Optional<double[]> capacityInterval() {
        double[] sorted = capacities.stream().mapToDouble(Double::doubleValue).sorted().toArray();
        return PercentileInterval.of(sorted.length, 0.5, CONFIDENCE).map(ranks -> new double[]{
                sorted[(int) ranks.low() - 1], sorted[(int) ranks.high() - 1], ranks.achievedConfidence()});
    }

    private String ofRounds() {
        return capacityInterval().map(bounds -> String.format(Locale.ROOT,
                "; over %d rounds the middle one lies from %s to %s calls/s (%.1f %%)", capacities.size(),
                Written.significant(bounds[0]), Written.significant(bounds[1]), bounds[2] * 100)).orElse("");
    }

    /** All levels of all runs. */
    public List<ScalabilityFit.Point> points() {
        return rounds.stream().flatMap(List::stream).toList();
    }

    /** A fit for each round. @return the interval of the ceiling over rounds; empty where there is none */
    public Optional<double[]> ceilingInterval() {
        return ScalabilityFit.ceilingInterval(rounds);
    }

    /**
     * What was seen and what the law says, without the candidate's name.
     *
     * @param interval of the ceiling
     */
    public String sentence(Optional<double[]> interval) {
        double most = points().stream().mapToDouble(ScalabilityFit.Point::throughput).max().orElse(0);
        String seen = "at most " + Written.significant(most) + " calls/s were seen, which serve about "
                + Written.significant(most * SECONDS_A_MINUTE) + " users who call once a minute" + ofRounds();
        if (fit.isEmpty()) {
            return seen + ".";
        }
        ScalabilityFit law = fit.get();
        var text = new StringBuilder(seen).append("; by the law ").append(Written.significant(law.gamma()))
                .append("/s for one user, ").append(Written.significant(law.alpha() * 100))
                .append(" % of the work stands in line");
        double highest = points().stream().mapToDouble(ScalabilityFit.Point::users).max().orElse(0);
        OptionalDouble bend = law.peakUsers().stream().filter(peak -> peak <= highest).findFirst();
        bend.ifPresentOrElse(
                peak -> text.append(", the bend is at ").append(Written.significant(peak)).append(" users"),
                () -> text.append(", without a bend up to ").append(Written.significant(highest)).append(" users"));
        law.ceiling().ifPresent(ceiling -> text.append(", the ceiling ").append(Written.significant(ceiling))
                .append(bend.isPresent() ? "/s" : "/s, by extrapolation"));
        interval.ifPresent(bounds -> text.append(" (").append(Written.significant(bounds[0])).append(" to ")
                .append(Written.significant(bounds[1])).append(" over the rounds)"));
        return text.append('.').toString();
    }
}
