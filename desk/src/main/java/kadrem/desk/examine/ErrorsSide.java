package kadrem.desk.examine;

import java.util.ArrayList;
import java.util.List;

import javafx.scene.Node;
import kadrem.core.measure.FailureKind;
import kadrem.desk.chart.Figure;
import kadrem.figures.StackFigure;

/** Failures over time by kind, a figure for each run that has some, and the exchanges that were kept. */
final class ErrorsSide implements ExamineSide {
    private static final int MAX_FIGURES = 3;
    private static final double FIGURE_HEIGHT = 150;

    private final ErrorsPane pane = new ErrorsPane();

    @Override
    public List<Node> show(Looked looked) {
        var kept = new ArrayList<ErrorsPane.Kept>();
        looked.runs().forEach(run -> run.exchanges().forEach(one -> kept.add(new ErrorsPane.Kept(run.name(), one))));
        pane.show(looked.lines(), kept);
        List<Examined> failing = looked.runs().stream()
                .filter(one -> one.view().seconds().stream().anyMatch(second -> second.failedTotal() > 0))
                .limit(MAX_FIGURES).toList();
        List<Node> nodes = new ArrayList<>();
        for (Examined run : failing) {
            var figure = new Figure("failures over time, " + run.name(),
                    StackFigure.chart(looked.theme(), "failed/s, " + run.name(), kinds(run), looked.warmUp(),
                            looked.end(), looked.chosenTime(), run == failing.getLast()));
            Node brushed = TimeBrush.over(figure, looked.brush());
            figure.setPrefHeight(FIGURE_HEIGHT);
            figure.setMinHeight(FIGURE_HEIGHT);
            nodes.add(brushed);
        }
        nodes.add(pane.view());
        return nodes;
    }

    private static List<StackFigure.Kind> kinds(Examined run) {
        var kinds = new ArrayList<StackFigure.Kind>();
        for (FailureKind kind : FailureKind.values()) {
            List<double[]> counts = run.view().seconds().stream()
                    .filter(second -> second.failed().getOrDefault(kind, 0L) > 0)
                    .map(second -> new double[]{second.second() + run.view().step() / 2.0,
                            (double) second.failed().getOrDefault(kind, 0L) / run.view().step()})
                    .toList();
            if (!counts.isEmpty()) {
                kinds.add(new StackFigure.Kind(kind.id(), counts));
            }
        }
        return kinds;
    }
}
