package kadrem.desk.compare;

import java.util.List;
import java.util.Map;
import java.util.Optional;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Judgement;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.desk.look.Background;
import kadrem.desk.Session;
import kadrem.desk.chart.Figure;
import kadrem.figures.OrderFigure;
import kadrem.files.study.Edit;

/** The runs in their order, to see drift; a round is left out with a reason, and what that would change is said before. */
final class OrderSide implements CompareSide {
    private final Session session;
    private final ToggleButton byTime = new ToggleButton("By time");
    private final ComboBox<Integer> round = new ComboBox<>();
    private final TextField reason = new TextField();
    private final Button leaveOut = new Button("Leave this round out");
    private final Label effect = new Label();
    private final VBox out = new VBox(4);
    private Optional<Looked> looked = Optional.empty();

    OrderSide(Session session, Runnable changed) {
        this.session = session;
        byTime.setId("order-by-time");
        byTime.getStyleClass().add("small-button");
        byTime.setOnAction(_ -> changed.run());
        round.setId("round-out");
        round.setPromptText("round");
        round.setAccessibleText("round to leave out");
        round.valueProperty().addListener((_, _, chosen) -> foresee(Optional.ofNullable(chosen)));
        reason.setId("round-out-reason");
        reason.setAccessibleText("why the round is left out");
        reason.setPromptText("why, such as: the backup ran in it");
        HBox.setHgrow(reason, Priority.ALWAYS);
        leaveOut.setId("leave-round-out");
        leaveOut.disableProperty().bind(reason.textProperty().isEmpty().or(round.valueProperty().isNull()));
        leaveOut.setOnAction(_ -> leaveOut());
        effect.setId("round-out-effect");
        effect.setWrapText(true);
        effect.getStyleClass().add("fact");
    }

    @Override
    public List<Node> show(Looked now) {
        looked = Optional.of(now);
        var figure = new Figure("runs in their order", OrderFigure.chart(now.theme(), now.study(), now.metric(),
                now.comparison().inOrder(), byTime.isSelected()));
        VBox.setVgrow(figure, Priority.ALWAYS);
        List<Integer> rounds = now.comparison().inOrder().stream().map(run -> run.round()).distinct().sorted().toList();
        if (!round.getItems().equals(rounds)) {
            round.setItems(FXCollections.observableArrayList(rounds));
        }
        var row = new HBox(8, new Label("round"), round, reason, leaveOut);
        row.setAlignment(Pos.CENTER_LEFT);
        out.getChildren().clear();
        List<Judgement.LeftOutRound> left = now.study().judgement().leftOut();
        for (int i = 0; i < left.size(); i++) {
            out.getChildren().add(takeBack(left.get(i), i));
        }
        return List.of(byTime, figure, row, effect, out);
    }

    private Node takeBack(Judgement.LeftOutRound one, int index) {
        var back = new Button("Take back");
        back.getStyleClass().add("small-button");
        back.setId("take-back-" + one.round());
        back.setOnAction(_ -> session.edit(List.of(new Edit.Remove("soundness.leftOut", index)), effect::setText));
        var row = new HBox(8, new Label("Round " + one.round() + " is left out: " + one.reason()), back);
        row.setAlignment(Pos.CENTER_LEFT);
        return row;
    }

    /** Says what would change without a round. */
    private void foresee(Optional<Integer> chosen) {
        effect.setText("");
        looked.ifPresent(now -> chosen.ifPresent(number -> Background.AT_ONCE.run(() -> without(now, number), words -> {
            if (number.equals(round.getValue())) {
                effect.setText(words);
            }
        }, cause -> effect.setText(String.valueOf(cause.getMessage())))));
    }

    private static String without(Looked now, int number) {
        Study without = now.study().withJudgement(now.study().judgement().without(number, "?"));
        List<String> changes = Comparison.of(without, now.state().runs()).changesFrom(now.comparison());
        return changes.isEmpty()
                ? "Without round " + number + " every outcome stays what it is."
                : "Without round " + number + ": " + String.join("; ", changes) + ".";
    }

    private void leaveOut() {
        Integer number = round.getValue();
        session.edit(List.of(new Edit.Insert("soundness.leftOut", 0,
                Map.of("round", number, "reason", reason.getText().strip()))), effect::setText);
        reason.clear();
        round.setValue(null);
    }
}
