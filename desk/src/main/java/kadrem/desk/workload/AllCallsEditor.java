package kadrem.desk.workload;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import kadrem.core.study.StatusSet;
import kadrem.desk.Session;
import kadrem.desk.form.LineFields;
import kadrem.files.study.CallDefaults;
import kadrem.files.study.Edit;

/** What holds for the whole workload: how visits are chosen, the first part, and what calls have that do not say otherwise. */
final class AllCallsEditor {
    private static final String DEFAULTS = "workload.defaults";

    private final Session session;
    private final Consumer<String> rejected;
    private final LineFields whole;
    private final LineFields each;
    private final TextField statuses = new TextField();
    private final PartRows headers = new PartRows("headers of all calls", "all-headers", List.of(), "name", "value",
            this::putHeaders);
    private final FlowPane ofWhole = new FlowPane(16, 8);
    private final FlowPane ofEach = new FlowPane(16, 8);
    private final Button first = new Button("Add a call that each user makes first");
    private final VBox view;
    private boolean filling;

    /** @param addFirst adds a call to the first part */
    AllCallsEditor(Session session, Consumer<String> rejected, Runnable addFirst) {
        this.session = session;
        this.rejected = rejected;
        whole = new LineFields(session, "workload", "workload", rejected);
        each = new LineFields(session, DEFAULTS, "all", rejected);
        first.setId("add-first-call");
        first.setOnAction(_ -> addFirst.run());
        statuses.setPromptText("any 2xx");
        FieldGrid.dress(statuses, "status", "all-status", this::putStatuses);
        var words = new Label("A call that says nothing else has these:");
        words.getStyleClass().add("muted");
        view = new VBox(10, ofWhole, words, ofEach, headers.view());
    }

    private void lay(Session.State state) {
        if (ofWhole.getChildren().isEmpty()) {
            whole.editors(state).values().forEach(one -> ofWhole.getChildren().add(WorkloadStation.named(one)));
            ofWhole.getChildren().add(first);
            each.editors(state).values().forEach(one -> ofEach.getChildren().add(WorkloadStation.named(one)));
            var status = new HBox(6, FieldGrid.label("status"), statuses);
            status.setAlignment(Pos.CENTER_LEFT);
            ofEach.getChildren().add(status);
        }
    }

    Node view() {
        return view;
    }

    void show(Session.State state) {
        lay(state);
        whole.show(state, "workload");
        each.show(state, DEFAULTS);
        CallDefaults defaults = state.file().callDefaults();
        filling = true;
        if (!statuses.isFocused()) {
            statuses.setText(written(defaults));
        }
        // expectations of other kinds would be lost by an edit of the statuses alone
        statuses.setDisable(defaults.expected()
                .filter(expected -> !expected.content().isEmpty() || expected.within().isPresent()).isPresent());
        headers.show(defaults.headers().entrySet().stream()
                .map(header -> new PartRows.Row("", header.getKey(), header.getValue())).toList());
        filling = false;
    }

    private static String written(CallDefaults defaults) {
        return defaults.expected().map(expected -> String.join(", ",
                expected.status().ranges().stream().map(StatusSet.Range::toString).toList())).orElse("");
    }

    private void putStatuses() {
        session.state().filter(state -> !written(state.file().callDefaults()).equals(statuses.getText().strip()))
                .ifPresent(_ -> put("expect", CallForm.expect(statuses.getText().strip(), "", List.of())));
    }

    private void putHeaders() {
        put("headers", CallForm.map(headers.rows()));
    }

    private void put(String name, Optional<Object> value) {
        if (!filling) {
            rejected.accept("");
            session.edit(List.of(new Edit.Put(DEFAULTS, Map.of(name, value))),
                    why -> rejected.accept(why + " The study keeps its last good state."));
        }
    }
}
