package kadrem.desk.workload;

import java.util.function.Consumer;

import javafx.scene.Node;
import javafx.scene.layout.FlowPane;
import kadrem.desk.Session;
import kadrem.desk.form.LineFields;

/** The form of one visit: its fields without its calls. */
final class VisitEditor {
    private final LineFields fields;
    private final FlowPane view = new FlowPane(16, 8);

    VisitEditor(Session session, Consumer<String> rejected) {
        fields = new LineFields(session, "workload.visits", "visit", rejected);
    }

    Node view() {
        return view;
    }

    void show(Session.State state, String place) {
        if (view.getChildren().isEmpty()) {
            fields.editors(state).values().forEach(one -> view.getChildren().add(WorkloadStation.named(one)));
        }
        fields.show(state, place);
    }
}
