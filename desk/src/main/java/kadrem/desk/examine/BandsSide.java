package kadrem.desk.examine;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Metric;
import kadrem.core.study.Requirement;
import kadrem.figures.BandsFigure;
import kadrem.desk.chart.Figure;

/**
 * Share of the calls inside bands of response time. The requirements' limits are edges, with their half and their double; where
 * no requirement names a response time, round numbers around what was measured are.
 */
final class BandsSide implements ExamineSide {
    private static final double[] ROUND = {1, 2, 5};
    private static final int MAX_EDGES = 5;

    @Override
    public List<Node> show(Looked looked) {
        List<Double> limits = looked.state().study().question().requirements().stream()
                .filter(one -> one.metric().unit() == Metric.Unit.NANOSECONDS).map(Requirement::limit).distinct()
                .toList();
        List<Double> edges = edges(looked, limits);
        var words = new Label(limits.isEmpty()
                ? "No requirement names a response time, so the bands are round numbers: from the fastest calls, light, to"
                        + " the slowest, dark: " + String.join(" · ", BandsFigure.words(edges)) + "."
                : "The bands follow the requirements, half and double: " + String.join(" · ", BandsFigure.words(edges))
                        + ".");
        words.setWrapText(true);
        words.setId("bands-words");
        words.getStyleClass().add("muted");
        var figure = new Figure("share of the calls by response time",
                BandsFigure.chart(looked.theme(), looked.lines(), edges));
        VBox.setVgrow(figure, Priority.ALWAYS);
        return List.of(words, figure);
    }

    private static List<Double> edges(Looked looked, List<Double> limits) {
        var edges = new TreeSet<Double>();
        limits.forEach(limit -> edges.addAll(List.of(limit / 2, limit, limit * 2)));
        if (edges.isEmpty()) {
            double low = looked.lines().stream().map(one -> one.view().total().response())
                    .mapToDouble(one -> one.getValueAtPercentile(25)).min().orElse(1e6);
            for (double decade = Math.pow(10, Math.floor(Math.log10(Math.max(1e3, low)))); edges
                    .size() < MAX_EDGES; decade *= 10) {
                for (double step : ROUND) {
                    if (decade * step >= low && edges.size() < MAX_EDGES) {
                        edges.add(decade * step);
                    }
                }
            }
        }
        return new ArrayList<>(edges);
    }
}
