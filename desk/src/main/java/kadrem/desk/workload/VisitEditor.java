package kadrem.desk.workload;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.scene.Node;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import kadrem.core.study.Visit;
import kadrem.core.study.Written;
import kadrem.desk.Session;
import kadrem.files.study.Edit;

/** The form of one visit: name, share, repeats. */
final class VisitEditor {
    private final Session session;
    private final Consumer<String> rejected;
    private final TextField name = new TextField();
    private final TextField share = new TextField();
    private final TextField repeat = new TextField();
    private final FlowPane view = new FlowPane(16, 8);
    private String path = "";

    VisitEditor(Session session, Consumer<String> rejected) {
        this.session = session;
        this.rejected = rejected;
        view.getChildren().addAll(WorkloadStation.named("name", name, 220), WorkloadStation.named("share", share, 80),
                WorkloadStation.named("times over", repeat, 60));
        field("name", name);
        field("share", share);
        field("repeat", repeat);
    }

    private void field(String field, TextField text) {
        text.setId("visit-" + field);
        text.setOnAction(_ -> put(field, text));
        text.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                put(field, text);
            }
        });
    }

    Node view() {
        return view;
    }

    void show(String place, Visit visit) {
        path = place;
        set(name, visit.name());
        set(share, Written.significant(visit.share()));
        set(repeat, Integer.toString(visit.repeat()));
    }

    private static void set(TextField field, String text) {
        field.setText(text);
        field.setUserData(text);
    }

    private void put(String field, TextField text) {
        if (!path.isEmpty() && !text.getText().strip().equals(text.getUserData())) {
            text.setUserData(text.getText().strip());
            rejected.accept("");
            session.edit(List.of(new Edit.Put(path, Map.of(field, Optional.of(text.getText().strip())))),
                    why -> rejected.accept(why + " The study keeps its last good state."));
        }
    }
}
