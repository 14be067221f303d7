package kadrem.files.report;

import java.util.List;

import kadrem.core.scaling.LadderResult;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.QuantileDifferences;
import kadrem.files.compare.Distributions;
import kadrem.files.compare.Results;
import kadrem.figures.CostFigure;
import kadrem.figures.DistributionFigure;
import kadrem.figures.FigureTheme;
import kadrem.figures.IntervalsFigure;
import kadrem.figures.LadderFigure;
import kadrem.figures.Mark;
import kadrem.figures.OrderFigure;
import kadrem.figures.RoundsFigure;

/** The figures of a report, which are those of the window. Drawn light; the page's styles turn them dark. */
final class ReportFigures {
    private static final FigureTheme THEME = new FigureTheme(false);

    private final Study study;
    private final Comparison comparison;

    ReportFigures(Results results) {
        study = results.study();
        comparison = results.comparison();
    }

    private static Page row(Page page) {
        Page row = page.within("div");
        row.at().attr("class", "figures");
        return row;
    }

    void ofMetric(Page page, Metric metric, List<PairComparison> pairs) {
        Page row = row(page);
        row.figure(RoundsFigure.chart(THEME, study, metric, comparison.inOrder()),
                "Every run that entered, those of one round joined: the slopes are the paired differences.");
        row.figure(IntervalsFigure.chart(THEME, study, pairs),
                "The estimate of each pair with its interval, against the margin within which a difference does not matter.");
    }

    void distributions(Page page, Distributions all) {
        List<QuantileDifferences> differences = all.differences(study);
        double margin = study.question().deciders().stream()
                .filter(one -> Comparison.OF_CALLS.contains(one.metric())).mapToDouble(one -> one.margin().size())
                .findFirst().orElse(Metric.P50.usualMargin().size());
        page.heading("Whole distributions");
        Page row = row(page);
        row.figure(DistributionFigure.curves(THEME, study, all.byCandidate()),
                "Response time by percentile: the geometric mean of the rounds, the band from the lowest to the highest.");
        if (!differences.isEmpty()) {
            row.figure(DistributionFigure.differences(THEME, study, differences, margin),
                    "The difference percentile by percentile, with a band that holds the whole curve at 95 %, beside the decision. "
                            + all.words(study, differences));
        }
    }

    /** Ladders with the fitted law, where the load was one. */
    void ladders(Page page) {
        List<LadderResult> ladders = LadderResult.of(study, comparison.inOrder());
        if (!ladders.isEmpty()) {
            page.heading("Ladders");
            row(page).figure(LadderFigure.chart(THEME, study, ladders),
                    "Throughput by level, a dot a level and run, and the fitted law as a line.");
            page.list(ladders.stream().map(ladder -> new Mark(study.indexOf(ladder.candidate())).letter() + ": "
                    + ladder.sentence(ladder.ceilingInterval())).toList());
        }
    }

    /** What each candidate costs, and the runs in their order. */
    void costAndOrder(Page page) {
        page.heading("What it costs, and the runs in their order");
        Page row = row(page);
        Metric metric = study.question().deciders().stream().map(Question.Decider::metric)
                .filter(Comparison.OF_CALLS::contains).findFirst().orElse(Metric.P95);
        if (!comparison.on(Metric.CPU_PER_THOUSAND).isEmpty() && !comparison.on(metric).isEmpty()) {
            row.figure(CostFigure.chart(THEME, study, comparison, metric, Metric.CPU_PER_THOUSAND),
                    "Each run a faint mark, each candidate's geometric mean a full one; a dashed line joins those that no"
                            + " other beats on both.");
        }
        Metric first = comparison.pairs().getFirst().metric();
        row.figure(OrderFigure.chart(THEME, study, first, comparison.inOrder(), true),
                "The runs in the order in which they were measured: a drift of the whole would show here.");
    }
}
