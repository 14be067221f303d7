package kadrem.desk.compare;

import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.GridPane;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Outcome;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Wording;
import kadrem.desk.look.CandidateMark;

/** All metrics at a glance: pairs down, metrics across, each outcome by a shape, a word and its size. A press opens it. */
final class MatrixSide implements CompareSide {
    private final Consumer<Metric> open;

    /** @param open told of a metric whose cell was pressed */
    MatrixSide(Consumer<Metric> open) {
        this.open = open;
    }

    @Override
    public List<Node> show(Looked looked) {
        var grid = new GridPane();
        grid.setId("matrix");
        grid.setHgap(4);
        grid.setVgap(4);
        Study study = looked.study();
        List<Metric> metrics = Comparison.metrics(study);
        List<Study.CandidatePair> pairs = study.pairs();
        for (int column = 0; column < pairs.size(); column++) {
            Study.CandidatePair pair = pairs.get(column);
            var head = new Label(letter(study, pair.candidate()) + " against " + letter(study, pair.baseline()),
                    new CandidateMark(study.indexOf(pair.candidate())).marker(5));
            head.getStyleClass().add("attribute");
            grid.add(head, column + 1, 0);
        }
        for (int row = 0; row < metrics.size(); row++) {
            Metric metric = metrics.get(row);
            boolean decides = study.question().decider(metric).isPresent();
            var name = new Label(metric.label() + (decides ? "  (decides)" : ""));
            name.getStyleClass().add(decides ? "outcome-settled" : "fact");
            grid.add(name, 0, row + 1);
            for (int column = 0; column < pairs.size(); column++) {
                Study.CandidatePair wanted = pairs.get(column);
                Optional<PairComparison> pair = looked.comparison().on(metric).stream()
                        .filter(one -> one.baseline().equals(wanted.baseline())
                                && one.candidate().equals(wanted.candidate()))
                        .findFirst();
                if (pair.isPresent()) {
                    grid.add(cell(pair.get()), column + 1, row + 1);
                }
            }
        }
        var key = new Label(
                "▲▲ better by more than the margin   ▲ better   = no difference that matters   ? not settled   "
                        + "▽ worse   ▽▽ worse by more than the margin. Press a cell to open it.");
        key.getStyleClass().add("muted");
        key.setWrapText(true);
        return List.of(grid, key);
    }

    private Node cell(PairComparison pair) {
        var button = new Button(sign(pair.outcome()) + "  " + Wording.change(pair.metric(), pair.estimate()));
        button.setId("cell-" + pair.metric().id() + "-" + pair.candidate() + "-" + pair.baseline());
        button.getStyleClass().addAll("outcome-cell", "outcome-" + pair.outcome().id());
        button.setAccessibleText(pair.metric().label() + ", " + pair.words());
        button.setPrefWidth(210);
        button.setOnAction(_ -> open.accept(pair.metric()));
        return button;
    }

    static String sign(Outcome outcome) {
        return switch (outcome) {
            case BETTER_BY_MORE -> "▲▲";
            case BETTER -> "▲";
            case NO_DIFFERENCE_THAT_MATTERS -> "=";
            case NOT_SETTLED -> "?";
            case WORSE -> "▽";
            case WORSE_BY_MORE -> "▽▽";
        };
    }

    private static String letter(Study study, String id) {
        return new CandidateMark(study.indexOf(id)).letter();
    }
}
