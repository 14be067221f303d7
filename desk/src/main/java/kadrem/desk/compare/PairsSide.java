package kadrem.desk.compare;

import java.util.ArrayList;
import java.util.List;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Wording;
import kadrem.desk.chart.Figure;
import kadrem.figures.IntervalsFigure;
import kadrem.figures.RoundsFigure;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.why.WhyDrawer;

/** Every run as a dot joined by round, each pair's interval against the margin, the outcome in words; all pairs in a table. */
final class PairsSide implements CompareSide {
    private final PairTable table;
    private final ToggleButton baselineOnly = new ToggleButton("Against the baseline only");

    /** @param changed told when other pairs are to be seen */
    PairsSide(PairTable table, Runnable changed) {
        this.table = table;
        baselineOnly.setId("baseline-only");
        baselineOnly.getStyleClass().add("small-button");
        baselineOnly.setOnAction(_ -> changed.run());
    }

    /** The pairs with the answer first: those of a candidate that leads, then what is settled, then what is not. */
    private List<PairComparison> ordered(Looked looked) {
        String baseline = looked.study().question().baseline();
        return Wording.answerFirst(looked.study(), looked.comparison().on(looked.metric())).stream()
                .filter(pair -> !baselineOnly.isSelected() || pair.baseline().equals(baseline)).toList();
    }

    @Override
    public List<Node> show(Looked looked) {
        var figures = new HBox(12);
        figures.setMinHeight(220);
        VBox.setVgrow(figures, Priority.ALWAYS);
        List<PairComparison> pairs = ordered(looked);
        figure(figures, new Figure("runs of each candidate joined by round", RoundsFigure.chart(looked.theme(),
                looked.study(), looked.metric(), looked.comparison().inOrder())));
        figure(figures, new Figure("interval of each pair against the margin",
                IntervalsFigure.chart(looked.theme(), looked.study(), pairs)));
        List<Node> nodes = new ArrayList<>(List.of(figures, outcomes(looked, pairs)));
        if (looked.study().candidates().size() > 2) {
            nodes.add(1, baselineOnly);
        }
        table.show(looked.study(), looked.comparison().pairs());
        nodes.add(table.view());
        return nodes;
    }

    private static void figure(HBox figures, Figure figure) {
        HBox.setHgrow(figure, Priority.ALWAYS);
        figure.setPrefWidth(100);
        figures.getChildren().add(figure);
    }

    private static VBox outcomes(Looked looked, List<PairComparison> pairs) {
        var outcomes = new VBox(2);
        for (PairComparison pair : pairs) {
            Button line = WhyDrawer.link(Wording.finding(looked.study(), pair) + ": " + Wording.outcome(pair) + ".",
                    () -> Explanation.of(looked.comparison(), pair, looked.state().floor()), looked.why());
            line.setGraphic(new CandidateMark(looked.study().indexOf(pair.candidate())).marker(5));
            line.getStyleClass().add(pair.outcome().isSettled() ? "outcome-settled" : "outcome-open");
            line.setId("outcome-" + pair.candidate() + "-" + pair.baseline());
            line.setMaxWidth(Double.MAX_VALUE);
            outcomes.getChildren().add(line);
        }
        if (!pairs.getFirst().deciding()) {
            var note = new Label("This metric does not decide: read it as an observation beside the decision.");
            note.getStyleClass().add("muted");
            outcomes.getChildren().add(note);
        }
        return outcomes;
    }
}
