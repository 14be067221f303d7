package kadrem.desk.workload;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Supplier;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import kadrem.core.study.StatusSet;
import kadrem.core.study.Workload;
import kadrem.desk.Session;
import kadrem.files.study.CallDefaults;
import kadrem.core.study.grammar.Durations;
import kadrem.files.study.Edit;
import kadrem.files.study.ThinkTimes;

/** What holds for the whole workload: how visits are chosen, the first part, and what calls have that do not say otherwise. */
final class AllCallsEditor {
    private static final String BY_SHARE = "by their share";
    private static final String IN_TURN = "one after the other";

    private final Session session;
    private final Consumer<String> rejected;
    private final ComboBox<String> choice = new ComboBox<>(FXCollections.observableArrayList(BY_SHARE, IN_TURN));
    private final TextField timeout = new TextField();
    private final TextField thinkTime = new TextField();
    private final TextField statuses = new TextField();
    private final PartRows headers = new PartRows("headers of all calls", "all-headers", List.of(), "name", "value",
            this::putHeaders);
    private final VBox view;
    private boolean filling;

    /** @param addFirst adds a call to the first part */
    AllCallsEditor(Session session, Consumer<String> rejected, Runnable addFirst) {
        this.session = session;
        this.rejected = rejected;
        choice.setId("choose-visits");
        choice.setAccessibleText("how a user chooses its next visit");
        choice.setOnAction(_ -> put("workload", "choose", () -> Optional.of(choice.getValue().equals(IN_TURN)
                ? Workload.Choice.IN_TURN.id()
                : Workload.Choice.BY_SHARE.id())));
        var first = new Button("Add a call that each user makes first");
        first.setId("add-first-call");
        first.setOnAction(_ -> addFirst.run());
        var label = new Label("visits come");
        label.getStyleClass().add("attribute");
        var chosen = new HBox(6, label, choice);
        chosen.setAlignment(Pos.CENTER_LEFT);
        field(timeout, "all-timeout", "timeout", "the load's");
        field(thinkTime, "all-think-time", "thinkTime", "the load's");
        field(statuses, "all-status", "expect", "any 2xx");
        var fields = new FlowPane(16, 8, WorkloadStation.named("time limit", timeout, 100),
                WorkloadStation.named("pause after", thinkTime, 170), WorkloadStation.named("status", statuses, 110));
        var words = new Label("A call that says nothing else has these:");
        words.getStyleClass().add("muted");
        view = new VBox(10, new FlowPane(16, 8, chosen, first), words, fields, headers.view());
    }

    private void field(TextField field, String id, String name, String prompt) {
        field.setId(id);
        field.setPromptText(prompt);
        Runnable commit = () -> {
            if (!field.getText().strip().equals(field.getUserData())) {
                field.setUserData(field.getText().strip());
                put("workload.defaults", name, () -> value(name, field.getText().strip()));
            }
        };
        field.setOnAction(_ -> commit.run());
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                commit.run();
            }
        });
    }

    private static Optional<Object> value(String name, String text) {
        if (text.isEmpty()) {
            return Optional.empty();
        }
        return name.equals("expect") ? CallForm.expect(text, "", List.of()) : Optional.of(text);
    }

    Node view() {
        return view;
    }

    void show(Workload workload, CallDefaults defaults) {
        filling = true;
        choice.setValue(workload.choice() == Workload.Choice.IN_TURN ? IN_TURN : BY_SHARE);
        fill(timeout, defaults.timeout().map(Durations::write).orElse(""));
        fill(thinkTime, defaults.thinkTime().map(ThinkTimes::write).orElse(""));
        fill(statuses, defaults.expected().map(expected -> String.join(", ",
                expected.status().ranges().stream().map(StatusSet.Range::toString).toList())).orElse(""));
        // expectations of other kinds would be lost by an edit of the statuses alone
        statuses.setDisable(defaults.expected()
                .filter(expected -> !expected.content().isEmpty() || expected.within().isPresent()).isPresent());
        headers.show(defaults.headers().entrySet().stream()
                .map(header -> new PartRows.Row("", header.getKey(), header.getValue())).toList());
        filling = false;
    }

    private static void fill(TextField field, String text) {
        if (!field.isFocused()) {
            field.setText(text);
            field.setUserData(text);
        }
    }

    private void putHeaders() {
        put("workload.defaults", "headers", () -> CallForm.map(headers.rows()));
    }

    private void put(String path, String name, Supplier<Optional<Object>> value) {
        if (!filling) {
            rejected.accept("");
            session.edit(List.of(new Edit.Put(path, Map.of(name, value.get()))),
                    why -> rejected.accept(why + " The study keeps its last good state."));
        }
    }
}
