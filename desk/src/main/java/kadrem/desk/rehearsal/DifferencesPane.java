package kadrem.desk.rehearsal;

import java.util.List;
import java.util.Map;
import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.rehearsal.Difference;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.rehearsal.UsualDifferences;
import kadrem.core.study.MeasuredStudy;
import kadrem.desk.Session;
import kadrem.desk.look.CandidateMark;
import kadrem.work.Acceptance;

/** Where answers differ, and why that does not matter where it does not. Interface thread only. */
final class DifferencesPane {
    private static final int MAX_DIFFERENCES = 30;

    private final Session session;
    private final Consumer<String> told;
    private final VBox view = new VBox(6);

    /** @param told why a difference could not be accepted */
    DifferencesPane(Session session, Consumer<String> told) {
        this.session = session;
        this.told = told;
    }

    Node view() {
        return view;
    }

    void clear() {
        view.getChildren().clear();
    }

    void show(MeasuredStudy study, Rehearsal rehearsal) {
        List<Difference> open = rehearsal.open(study.agreement());
        int accepted = rehearsal.differences().size() - open.size();
        if (open.isEmpty()) {
            boolean all = rehearsal.candidates().stream().allMatch(Rehearsal.OfCandidate::isGood);
            view.getChildren().add(words(all
                    ? "Nowhere: all candidates answer alike."
                    : "Nowhere among the answers that came.", all ? "good" : "fact"));
        } else {
            view.getChildren()
                    .add(words("A difference that matters must be mended in the candidate. One that does"
                            + " not is accepted with a reason, which is kept in the study. Until then nothing is measured.",
                            "muted"));
        }
        Map<Difference, String> usual = UsualDifferences.among(open, study.workload());
        if (!usual.isEmpty()) {
            view.getChildren().add(acceptUsual(study, usual));
        }
        open.stream().limit(MAX_DIFFERENCES).forEach(one -> view.getChildren()
                .add(row(study, one, usual.getOrDefault(one, ""))));
        if (open.size() > MAX_DIFFERENCES) {
            view.getChildren().add(words("… and " + (open.size() - MAX_DIFFERENCES) + " more", "muted"));
        }
        if (accepted > 0) {
            view.getChildren().add(words(
                    accepted + (accepted == 1 ? " difference is accepted." : " differences are accepted."), "muted"));
        }
    }

    /** What two honest implementations always differ in is accepted at one press; its reasons stand in the rows below. */
    private Node acceptUsual(MeasuredStudy study, Map<Difference, String> usual) {
        var all = new Button(usual.size() == 1 ? "Accept the usual one" : "Accept the " + usual.size() + " usual ones");
        all.setId("accept-usual");
        all.setOnAction(_ -> accept(study, usual));
        Label what = words("What implementations usually differ in, each with the reason below.", "muted");
        var row = new HBox(8, all, what);
        row.setAlignment(Pos.CENTER_LEFT);
        return row;
    }

    /** @param proposed why it does not matter, where that is known */
    private Node row(MeasuredStudy study, Difference difference, String proposed) {
        int index = study.indexOf(difference.candidate());
        var sentence = new Label(difference.sentence(), index < 0 ? null : new CandidateMark(index).marker(5));
        sentence.setWrapText(true);
        var reason = new TextField();
        reason.setPromptText("why it does not matter");
        reason.setAccessibleText("why the difference at " + difference.where() + " does not matter");
        HBox.setHgrow(reason, Priority.ALWAYS);
        var accept = new Button("Accept");
        accept.setDisable(true);
        reason.textProperty().addListener((_, _, text) -> accept.setDisable(text.isBlank()));
        reason.setText(proposed);
        Runnable accepting = () -> {
            if (!reason.getText().isBlank()) {
                accept(study, Map.of(difference, reason.getText().strip()));
            }
        };
        reason.setOnAction(_ -> accepting.run());
        accept.setOnAction(_ -> accepting.run());
        return new VBox(3, sentence, new HBox(6, reason, accept));
    }

    private void accept(MeasuredStudy study, Map<Difference, String> reasons) {
        session.edit(Acceptance.edits(study, reasons), told);
    }

    private static Label words(String text, String style) {
        var label = new Label(text);
        label.setWrapText(true);
        label.getStyleClass().add(style);
        return label;
    }
}
