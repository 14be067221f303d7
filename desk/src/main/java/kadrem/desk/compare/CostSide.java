package kadrem.desk.compare;

import java.util.List;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Metric;
import kadrem.figures.CostFigure;
import kadrem.desk.chart.Figure;

/** What a candidate costs against what it gives. */
final class CostSide implements CompareSide {
    @Override
    public List<Node> show(Looked looked) {
        Metric metric = looked.metric().kind() == Metric.Kind.CPU_PER_THOUSAND
                || looked.metric().kind() == Metric.Kind.ERROR_SHARE
                        ? Metric.P95
                        : looked.metric();
        if (looked.comparison().on(Metric.CPU_PER_THOUSAND).isEmpty() || looked.comparison().on(metric).isEmpty()) {
            var nothing = new Label(
                    "What the candidates cost is not known: it takes the processor time of candidates that Kadrem"
                            + " launches or watches, or figures of " + Metric.CPU_PER_THOUSAND.id() + ".");
            nothing.setWrapText(true);
            return List.of(nothing);
        }
        var figure = new Figure("cost against " + metric.label(), CostFigure.chart(looked.theme(), looked.study(),
                looked.comparison(), metric, Metric.CPU_PER_THOUSAND));
        VBox.setVgrow(figure, Priority.ALWAYS);
        var words = new Label(
                "Each run a faint mark, each candidate's geometric mean a full one. The dashed line joins those that"
                        + " no other beats on both; a candidate away from it costs more and gives less than another. Only the places of"
                        + " the means are compared here, not whether they are settled.");
        words.setWrapText(true);
        words.getStyleClass().add("muted");
        return List.of(figure, words);
    }
}
