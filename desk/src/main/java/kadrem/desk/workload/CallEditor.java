package kadrem.desk.workload;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Supplier;

import javafx.collections.FXCollections;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.control.TextInputControl;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Call;
import kadrem.desk.Session;
import kadrem.files.study.CallDefaults;
import kadrem.files.study.Durations;
import kadrem.files.study.Edit;
import kadrem.files.study.ThinkTimes;

/** The form of one call. Each field is saved by itself when it is left, so that what was not touched stays as it is. */
final class CallEditor {
    private static final List<String> METHODS = List.of("GET", "POST", "PUT", "PATCH", "DELETE", "HEAD", "OPTIONS");
    private static final List<String> BODIES = List.of("none", "json", "xml", "text", "form", "file", "parts");

    private final Session session;
    private final Consumer<String> rejected;
    private final HBox view = new HBox(22);
    private final GridPane fields = new GridPane();
    private final ComboBox<String> method = new ComboBox<>(FXCollections.observableArrayList(METHODS));
    private final ComboBox<String> bodyKind = new ComboBox<>(FXCollections.observableArrayList(BODIES));
    private final TextField name = new TextField();
    private final TextField address = new TextField();
    private final TextField timeout = new TextField();
    private final TextField thinkTime = new TextField();
    private final TextField statuses = new TextField();
    private final TextField within = new TextField();
    private final TextArea body = new TextArea();
    private final PartRows headers = new PartRows("headers", "headers", List.of(), "name", "value",
            () -> put("headers",
                    () -> CallForm.map(CallForm.ownHeaders(this.headers().rows(), this.defaults().headers()))));
    private final PartRows expectations = new PartRows("expected of the answer", "expectations",
            CallForm.EXPECTATIONS, "what", "value", this::putExpectations);
    private final PartRows captures = new PartRows("captured from the answer", "captures", CallForm.SOURCES, "name",
            "where", () -> put("capture", () -> CallForm.capture(this.captures().rows())));
    private final PartRows parts = new PartRows("parts of the body", "parts", CallForm.PARTS, "name",
            "text, or file and its type", this::putBody);
    private CallDefaults defaults = CallDefaults.NONE;
    private String path = "";
    private boolean filling;

    CallEditor(Session session, Consumer<String> rejected) {
        this.session = session;
        this.rejected = rejected;
        fields.setHgap(8);
        fields.setVgap(5);
        fields.getColumnConstraints().addAll(new ColumnConstraints(82), grow(), new ColumnConstraints(74), grow());
        method.setId("call-method");
        method.setAccessibleText("method");
        method.setOnAction(_ -> put("method", () -> Optional.of(method.getValue())));
        bodyKind.setId("call-body-kind");
        bodyKind.setAccessibleText("kind of body");
        bodyKind.setOnAction(_ -> putBody());
        body.setId("call-body");
        body.setAccessibleText("body");
        body.setPrefRowCount(4);
        body.getStyleClass().add("exchange-text");
        onLeave(body, this::putBody);
        row(0, "name", name, "call-name", () -> put("name", () -> Optional.of(name.getText().strip())));
        fields.add(label("method"), 2, 0);
        fields.add(method, 3, 0);
        wide(1, "address", address, "call-path", () -> put("path", () -> Optional.of(address.getText().strip())));
        row(2, "status", statuses, "call-status", this::putExpectations);
        statuses.setPromptText("any 2xx");
        second(2, "within", within, "call-within", this::putExpectations);
        within.setPromptText("no limit");
        row(3, "time limit", timeout, "call-timeout", () -> put("timeout", () -> some(timeout)));
        timeout.setPromptText("the load's");
        second(3, "pause after", thinkTime, "call-think-time", () -> put("thinkTime", () -> some(thinkTime)));
        thinkTime.setPromptText("the load's");
        fields.add(label("body"), 0, 4);
        fields.add(bodyKind, 1, 4);
        fields.add(body, 0, 5, 4, 1);
        fields.add(parts.view(), 0, 6, 4, 1);
        GridPane.setVgrow(body, Priority.ALWAYS);
        fields.setMinWidth(400);
        var right = new VBox(10, headers.view(), expectations.view(), captures.view());
        HBox.setHgrow(right, Priority.ALWAYS);
        HBox.setHgrow(fields, Priority.ALWAYS);
        fields.setPrefWidth(100);
        fields.setMaxWidth(520);
        var inParts = bodyKind.valueProperty().isEqualTo("parts");
        body.visibleProperty().bind(bodyKind.valueProperty().isNotEqualTo("none").and(inParts.not()));
        parts.view().visibleProperty().bind(inParts);
        parts.view().managedProperty().bind(inParts);
        body.managedProperty().bind(body.visibleProperty());
        right.setPrefWidth(100);
        view.getChildren().addAll(fields, right);
    }

    private PartRows headers() {
        return headers;
    }

    private CallDefaults defaults() {
        return defaults;
    }

    private PartRows captures() {
        return captures;
    }

    private static ColumnConstraints grow() {
        var constraints = new ColumnConstraints();
        constraints.setHgrow(Priority.ALWAYS);
        return constraints;
    }

    private static Label label(String text) {
        var label = new Label(text);
        label.getStyleClass().add("attribute");
        return label;
    }

    private void row(int row, String text, TextField field, String id, Runnable commit) {
        dress(field, text, id, commit);
        fields.add(label(text), 0, row);
        fields.add(field, 1, row);
    }

    private void second(int row, String text, TextField field, String id, Runnable commit) {
        dress(field, text, id, commit);
        fields.add(label(text), 2, row);
        fields.add(field, 3, row);
    }

    private void wide(int row, String text, TextField field, String id, Runnable commit) {
        dress(field, text, id, commit);
        fields.add(label(text), 0, row);
        fields.add(field, 1, row, 3, 1);
    }

    private void dress(TextField field, String text, String id, Runnable commit) {
        field.setId(id);
        field.setAccessibleText(text);
        field.getStyleClass().add("code-field");
        field.setOnAction(_ -> commit.run());
        onLeave(field, commit);
    }

    private static void onLeave(TextInputControl field, Runnable commit) {
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                commit.run();
            }
        });
    }

    Node view() {
        return view;
    }

    /** Shows {@code call}, which stands at {@code place} in the study file. */
    void show(String place, Call call, CallDefaults allCalls) {
        defaults = allCalls;
        boolean other = !place.equals(path);
        if (!other && shown.filter(call::equals).isPresent()) {
            // what was chosen and is not whole yet, such as a kind of body without its text, stays
            return;
        }
        filling = true;
        path = place;
        fill(name, call.name(), other);
        fill(address, call.path(), other);
        fill(statuses, CallForm.statuses(call), other);
        fill(within, CallForm.within(call.expected()), other);
        fill(timeout, call.timeout().map(Durations::write).orElse(""), other);
        fill(thinkTime, call.thinkTime().map(ThinkTimes::write).orElse(""), other);
        fill(body, CallForm.bodyText(call), other);
        method.setValue(call.method());
        String kind = CallForm.bodyKind(call);
        bodyKind.setValue(kind);
        if (other) {
            List.of(parts, headers, expectations, captures).forEach(PartRows::dropUnfinished);
        }
        parts.show(CallForm.parts(call));
        headers.show(CallForm.headers(call));
        expectations.show(CallForm.expectations(call));
        captures.show(CallForm.captures(call));
        filling = false;
        shown = Optional.of(call);
    }

    private Optional<Call> shown = Optional.empty();

    /** A field that is being written in is left alone, unless another call is shown. */
    private static void fill(TextInputControl field, String text, boolean other) {
        if (other || !field.isFocused()) {
            field.setText(text);
        }
    }

    private static Optional<Object> some(TextField field) {
        return field.getText().isBlank() ? Optional.empty() : Optional.of(field.getText().strip());
    }

    private void put(String field, Supplier<Optional<Object>> value) {
        if (!filling && !path.isEmpty() && differs(field)) {
            edit(Map.of(field, value.get()));
        }
    }

    /** Whether the form holds something else than the call, so that leaving a field untouched changes nothing. */
    private boolean differs(String field) {
        return shown.map(call -> switch (field) {
            case "name" -> !name.getText().strip().equals(call.name());
            case "path" -> !address.getText().strip().equals(call.path());
            case "method" -> !call.method().equals(method.getValue());
            case "timeout" -> !timeout.getText().strip().equals(call.timeout().map(Durations::write).orElse(""));
            case "thinkTime" ->
                !thinkTime.getText().strip().equals(call.thinkTime().map(ThinkTimes::write).orElse(""));
            default -> true;
        }).orElse(false);
    }

    private void putExpectations() {
        boolean same = shown.filter(call -> statuses.getText().strip().equals(CallForm.statuses(call))
                && within.getText().strip().equals(CallForm.within(call.expected()))
                && expectations.rows().equals(CallForm.expectations(call))).isPresent();
        if (!filling && !path.isEmpty() && !same) {
            edit(Map.of("expect", CallForm.expect(statuses.getText(), within.getText(), expectations.rows())));
        }
    }

    private void putBody() {
        String kind = bodyKind.getValue();
        boolean same = shown.filter(call -> CallForm.bodyKind(call).equals(kind)
                && CallForm.bodyText(call).equals(body.getText())
                && CallForm.parts(call).equals(parts.rows())).isPresent();
        boolean empty = kind.equals("parts")
                ? parts.rows().stream().noneMatch(row -> !row.name().isBlank())
                : body.getText().isBlank() && !kind.equals("none");
        if (!filling && !path.isEmpty() && !same && !empty) {
            edit(CallForm.body(kind, body.getText(), parts.rows()));
        }
    }

    private void edit(Map<String, Optional<Object>> changes) {
        rejected.accept("");
        session.edit(List.of(new Edit.Put(path, changes)), why -> rejected
                .accept(why + " The study keeps its last good state."));
    }
}
