package kadrem.files.compare;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.IntStream;

import kadrem.core.measure.RunOutcome;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.PlanCurve;
import kadrem.core.verdict.Planning;
import kadrem.core.verdict.QuantileDifferences;
import kadrem.core.verdict.RunTimes;
import kadrem.figures.CostFigure;
import kadrem.figures.DistributionFigure;
import kadrem.figures.FigureTheme;
import kadrem.figures.OrderFigure;
import kadrem.figures.PlanFigure;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyFile;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.plot.XYPlot;
import org.jfree.data.xy.YIntervalSeriesCollection;
import org.junit.jupiter.api.Test;

/** What figures draw of the demo study's comparison. */
class ComparedFiguresTest {
    private static final FigureTheme THEME = new FigureTheme(false);

    /** A comparison of the demo study's runs. */
    private static Comparison demo() throws Exception {
        Path demo = Path.of("../demo/harbour-berths");
        return Comparison.of(StudyFile.read(demo).study(), new RunFolders(demo).runs());
    }

    @Test
    void thePlanShowsWhatRoundsSettleFromTheFewestOn() throws Exception {
        Comparison comparison = demo();
        Planning plan = Planning.of(comparison.study(), Metric.P95, comparison, Optional.empty());
        XYPlot plot = PlanFigure.chart(THEME, PlanCurve.of(plan, PlanFigure.most(7)), 7).getXYPlot();
        assertThat(plot.getDataset().getXValue(0, 0)).isEqualTo(plan.fewest());
        assertThat(plot.getDataset().getYValue(0, 0)).isGreaterThan(plot.getDataset().getYValue(0, 5));
        assertThat(plot.getRangeAxis().getUpperBound()).isGreaterThanOrEqualTo(20);
    }

    @Test
    void runsAreDrawnInTheirOrderAndWithWhatTheyCost() throws Exception {
        Comparison comparison = demo();
        for (boolean byTime : new boolean[]{true, false}) {
            XYPlot order = OrderFigure.chart(THEME, comparison.study(), Metric.P95, comparison.inOrder(), byTime)
                    .getXYPlot();
            assertThat(order.getDataset().getSeriesCount()).isEqualTo(3);
            assertThat(IntStream.range(0, 3).map(order.getDataset()::getItemCount).sum())
                    .isEqualTo(comparison.inOrder().size());
        }
        XYPlot cost = CostFigure.chart(THEME, comparison.study(), comparison, Metric.P95, Metric.CPU_PER_THOUSAND)
                .getXYPlot();
        assertThat(cost.getDataset().getSeriesCount())
                .as("runs and a mean each; one beats the others on both, so no front")
                .isEqualTo(6);
        // the thread pool needs the least memory, and another is the fastest
        MeasuredStudy all = comparison.study().measured().orElseThrow();
        var two = new MeasuredStudy(all.name(), all.question(),
                all.candidates().stream().filter(one -> !one.id().equals("virtual")).toList(), all.workload(),
                all.load(), all.plan(), all.agreement(), all.intended(), all.judgement());
        Comparison ofTwo = Comparison.of(two, new RunFolders(Path.of("../demo/harbour-berths")).runs());
        assertThat(mean(ofTwo, Metric.P95, "loop")).isLessThan(mean(ofTwo, Metric.P95, "pool"));
        assertThat(mean(ofTwo, Metric.PEAK_MEMORY, "loop")).isGreaterThan(mean(ofTwo, Metric.PEAK_MEMORY, "pool"));
        assertThat(CostFigure.chart(THEME, two, ofTwo, Metric.P95, Metric.PEAK_MEMORY).getXYPlot().getDataset()
                .getSeriesCount()).as("with a front").isEqualTo(5);
    }

    private static double mean(Comparison comparison, Metric metric, String candidate) {
        return Math.exp(comparison.values(metric, candidate).values().stream().mapToDouble(Math::log).average()
                .orElseThrow());
    }

    /** A run whose candidate died has no value, and so no place: the figures are drawn without it, and the candidate has no middle. */
    @Test
    void aRunThatEndedItselfHasNoPlace() throws Exception {
        Path demo = Path.of("../demo/harbour-berths");
        var runs = new RunFolders(demo).runs().stream()
                .map(run -> run.candidate().equals("pool") && run.round() == 2
                        ? run.withOutcome(RunOutcome.DIED, "it ended", run.started())
                        : run)
                .toList();
        Comparison comparison = Comparison.of(StudyFile.read(demo).study(), runs);
        JFreeChart order = OrderFigure.chart(THEME, comparison.study(), Metric.P95, comparison.inOrder(), false);
        assertThat(IntStream.range(0, 3).map(order.getXYPlot().getDataset()::getItemCount).sum())
                .isEqualTo(comparison.inOrder().size() - 1);
        JFreeChart cost = CostFigure.chart(THEME, comparison.study(), comparison, Metric.P95,
                Metric.CPU_PER_THOUSAND);
        assertThat(cost.getXYPlot().getDataset().getItemCount(0)).as("runs of pool").isEqualTo(9);
        assertThat(order.createBufferedImage(600, 400).getWidth()).isEqualTo(600);
        assertThat(cost.createBufferedImage(600, 400).getWidth()).isEqualTo(600);
    }

    @Test
    void distributionsAreDrawnWithBandsAsFarAsTheTailsBear() throws Exception {
        Comparison comparison = demo();
        Distributions all = Distributions.read(Path.of("../demo/harbour-berths"), comparison);
        YIntervalSeriesCollection curves = (YIntervalSeriesCollection) DistributionFigure
                .curves(THEME, comparison.study(), all.byCandidate()).getXYPlot().getDataset();
        for (int i = 0; i < 3; i++) {
            int last = curves.getItemCount(i) - 1;
            assertThat(curves.getXValue(i, last)).as("about 1,280 calls: p99 has 12 above it").isBetween(2.0, 2.2);
            assertThat(curves.getStartYValue(i, last)).isLessThanOrEqualTo(curves.getYValue(i, last));
            assertThat(curves.getEndYValue(i, last)).isGreaterThanOrEqualTo(curves.getYValue(i, last));
        }
        // three in a hundred of one candidate's calls go without an answer: its curve ends there
        Map<String, Map<Integer, RunTimes>> failing = new HashMap<>(all.byCandidate());
        failing.computeIfPresent("loop", (_, runs) -> {
            var lacking = new TreeMap<Integer, RunTimes>();
            runs.forEach((round, one) -> lacking.put(round, new RunTimes(one.answered(), one.due() * 3 / 97)));
            return lacking;
        });
        YIntervalSeriesCollection cut = (YIntervalSeriesCollection) DistributionFigure
                .curves(THEME, comparison.study(), failing).getXYPlot().getDataset();
        int ofLoop = comparison.study().indexOf("loop");
        assertThat(cut.getXValue(ofLoop, cut.getItemCount(ofLoop) - 1)).as("97 %").isBetween(1.45, 1.53);
        List<QuantileDifferences> differences = all.differences(comparison.study());
        assertThat(differences).hasSize(3);
        assertThat(all.words(comparison.study(), differences)).startsWith("B against A: ").contains("C against A: ")
                .doesNotContain("C against B").doesNotContain("ended itself");
        assertThat(new Distributions(all.byCandidate(), Map.of("pool", 3)).words(comparison.study(), List.of()))
                .endsWith("Runs that a candidate ended itself have no times: pool in 3 rounds.");
        YIntervalSeriesCollection drawn = (YIntervalSeriesCollection) DistributionFigure
                .differences(THEME, comparison.study(), differences, 0.1).getXYPlot().getDataset();
        assertThat(drawn.getSeriesCount()).isEqualTo(3);
        PairComparison median = comparison.on(Metric.P50, "loop", "pool").orElseThrow();
        QuantileDifferences.At half = differences.stream().filter(one -> one.candidate().equals("loop")).findFirst()
                .orElseThrow().at().stream().filter(at -> at.percentile() == 50).findFirst().orElseThrow();
        assertThat(half.ratio()).as("the mean of the same rounds").isCloseTo(median.estimate(), within(0.03));
        assertThat(half.band().orElseThrow().contains(half.ratio())).isTrue();
    }
}
