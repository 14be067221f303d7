package kadrem.desk.verdict;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Stream;

import javafx.geometry.Pos;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.core.study.Factor;
import kadrem.core.study.Study;
import kadrem.desk.look.CandidateMark;
import kadrem.files.study.Edit;

/** What is judged and not measured: a row for each factor and candidate. */
final class JudgedPane {
    private final Consumer<List<Edit>> edit;
    private final Consumer<String> rejected;
    private final VBox view = new VBox(6);
    private final List<ScoreRow> scores = new ArrayList<>();
    private List<String> names = List.of();
    private Optional<Study> shown = Optional.empty();

    /**
     * @param edit changes the study
     * @param rejected told what is missing from a judgement
     */
    JudgedPane(Consumer<List<Edit>> edit, Consumer<String> rejected) {
        this.edit = edit;
        this.rejected = rejected;
        view.setId("judged");
    }

    VBox view() {
        return view;
    }

    /**
     * A row for each factor and candidate: a step of the scale, and the reason. Rows stay in their place as long as the study has
     * the same ones, so that whoever goes from one to the next is not interrupted by what the first has changed.
     */
    void show(Study study) {
        shown = Optional.of(study);
        List<Factor> factors = study.question().factors();
        List<String> wanted = Stream.concat(factors.stream().map(Factor::name),
                study.candidates().stream().map(Candidate::id)).toList();
        if (!wanted.equals(names) || scores.isEmpty()) {
            names = wanted;
            scores.clear();
            view.getChildren().clear();
            if (factors.isEmpty()) {
                view.getChildren()
                        .add(VerdictStation.words(
                                "Nothing is judged beside what was measured. Question has the factors that count:"
                                        + " development effort, operation, licence, ecosystem.",
                                "muted"));
            }
            for (int i = 0; i < factors.size(); i++) {
                view.getChildren().add(VerdictStation.words(factors.get(i).name() + ", judged", "attribute"));
                for (int c = 0; c < study.candidates().size(); c++) {
                    var row = new ScoreRow(factors.get(i), i, study.candidates().get(c).id(), c);
                    scores.add(row);
                    view.getChildren().add(row.view);
                }
            }
        }
        scores.forEach(row -> row.show(factors.get(row.place)));
    }

    /** How a candidate is judged in a factor. */
    private final class ScoreRow {
        private final int place;
        private final String candidate;
        private final ComboBox<String> step = new ComboBox<>();
        private final TextField reason = new TextField();
        private final HBox view;
        private Optional<Factor.Score> last = Optional.empty();
        private boolean filling;

        ScoreRow(Factor factor, int place, String candidate, int index) {
            this.place = place;
            this.candidate = candidate;
            for (int i = 0; i < Factor.SCALE.size(); i++) {
                step.getItems().add(i + 1 + " " + Factor.SCALE.get(i));
            }
            step.setId("judge-" + place + "-" + candidate);
            step.setAccessibleText(factor.name() + " of " + candidate);
            step.setPromptText("not judged");
            step.setPrefWidth(216);
            step.setMinWidth(216);
            step.setOnAction(_ -> commit());
            reason.setId("reason-" + place + "-" + candidate);
            reason.setPromptText("why");
            reason.setAccessibleText("reason for " + factor.name() + " of " + candidate);
            HBox.setHgrow(reason, Priority.ALWAYS);
            reason.setOnAction(_ -> commit());
            reason.focusedProperty().addListener((_, _, focused) -> {
                if (!focused) {
                    commit();
                }
            });
            var mark = new Label(new CandidateMark(index).letter(), new CandidateMark(index).marker(5));
            mark.setMinWidth(36);
            view = new HBox(6, mark, step, reason);
            view.setAlignment(Pos.CENTER_LEFT);
        }

        /** What was chosen or typed and waits for the other half stays until the study says otherwise. */
        void show(Factor factor) {
            Optional<Factor.Score> known = Optional.ofNullable(factor.scores().get(candidate));
            if (known.equals(last)) {
                return;
            }
            last = known;
            filling = true;
            step.setValue(known.map(one -> one.step() + " " + one.words()).orElse(null));
            if (!reason.isFocused()) {
                reason.setText(known.map(Factor.Score::reason).orElse(""));
            }
            filling = false;
        }

        private void commit() {
            List<Factor> factors = shown.map(study -> study.question().factors()).orElse(List.of());
            if (!filling && place < factors.size()) {
                judge(factors.get(place), place, candidate, step.getSelectionModel().getSelectedIndex() + 1,
                        reason.getText().strip());
            }
        }
    }

    private void judge(Factor factor, int place, String candidate, int step, String reason) {
        Factor.Score before = factor.scores().get(candidate);
        if (step < 1 || before != null && before.step() == step && before.reason().equals(reason)) {
            return;
        }
        if (reason.isEmpty()) {
            rejected.accept("A judgement needs its reason: write why " + candidate + " is "
                    + Factor.SCALE.get(step - 1) + " in " + factor.name() + ".");
            return;
        }
        var all = new HashMap<String, Object>();
        factor.scores().forEach((id, score) -> all.put(id, Map.of("step", score.step(), "reason", score.reason())));
        all.put(candidate, Map.of("step", step, "reason", reason));
        edit.accept(List.of(new Edit.Put("question.judge[" + place + "]", Map.of("scores", Optional.of(all)))));
    }
}
