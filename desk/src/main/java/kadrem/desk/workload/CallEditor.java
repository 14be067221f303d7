package kadrem.desk.workload;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.function.Function;

import javafx.beans.property.BooleanProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.control.TextInputControl;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Http;
import kadrem.core.study.Crowd;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Protocol;
import kadrem.core.study.Protocols;
import kadrem.core.study.grammar.Durations;
import kadrem.desk.Session;
import kadrem.desk.form.LineFields;
import kadrem.files.study.CallDefaults;
import kadrem.files.study.Edit;
import kadrem.files.study.ThinkTimes;

/**
 * The form of one call; one file, since the fields of a call show and hide each other. Each field is saved by itself when it is left, so
 * that what was not touched stays as it is.
 */
final class CallEditor {
    private static final List<String> METHODS = List.of("GET", "POST", "PUT", "PATCH", "DELETE", "HEAD", "OPTIONS");
    private static final List<String> BODIES = List.of("none", "json", "ndjson", "xml", "text", "form", "file",
            "parts");

    private final Session session;
    private final Consumer<String> rejected;
    private final HBox view = new HBox(22);
    private final FieldGrid grid = new FieldGrid();
    private final GridPane fields = grid.view();
    private final ComboBox<String> method = new ComboBox<>(FXCollections.observableArrayList(METHODS));
    private final ComboBox<String> bodyKind = new ComboBox<>(FXCollections.observableArrayList(BODIES));
    private final LineFields lines;
    private final FlowPane others = new FlowPane(16, 5);
    private final TextField statuses = new TextField();
    private final TextField within = new TextField();
    private final TextArea body = new TextArea();
    private final PartRows headers = new PartRows("headers", "headers", List.of(), "name", "value", this::putHeaders);
    private final PartRows expectations = new PartRows("expected of the answer", "expectations",
            CallForm.EXPECTATIONS, "what", "value", this::putExpectations);
    private final PartRows captures = new PartRows("captured from the answer", "captures", CallForm.SOURCES, "name",
            "where", this::putCaptures);
    private final TextField answerAt = new TextField();
    private final PartRows names = new PartRows("its members by other names", "answer-names", List.of(), "name here",
            "compared as; empty to leave out", this::putAnswer);
    private final VBox compared = new VBox(4);
    private final Hyperlink ofTheCall = new Hyperlink();
    private final PartRows parts = new PartRows("parts of the body", "parts", CallForm.PARTS, "name",
            "text, or file and its type", this::putBody);
    private final HBox languages = new HBox(6);
    private final Map<String, FormEditor> forms = new HashMap<>();
    private final VBox formPlace = new VBox();
    private final List<Node> ofHttp = new ArrayList<>();
    private final Label withinLabel = FieldGrid.label("within");
    private final VBox right;
    private CallDefaults defaults = CallDefaults.NONE;
    private String language = Http.ID;
    private String path = "";
    private final BooleanProperty isHttp = new SimpleBooleanProperty(true);
    private boolean filling;
    private boolean isLaid;

    CallEditor(Session session, Consumer<String> rejected) {
        this.session = session;
        this.rejected = rejected;
        method.setId("call-method");
        method.setAccessibleText("method");
        method.setOnAction(_ -> putMethod());
        bodyKind.setId("call-body-kind");
        bodyKind.setAccessibleText("kind of body");
        bodyKind.setOnAction(_ -> putBody());
        body.setId("call-body");
        body.setAccessibleText("body");
        body.setPrefRowCount(4);
        body.getStyleClass().add("exchange-text");
        FieldGrid.onLeave(body, this::putBody);
        lines = new LineFields(session, "workload.visits.calls", "call", rejected, "method", "bodyType", "file");
        FieldGrid.dress(statuses, "status", "call-status", this::putExpectations);
        statuses.setPromptText("any 2xx");
        FieldGrid.dress(within, "within", "call-within", this::putExpectations);
        within.setPromptText("no limit");
        grid.right(2, withinLabel, within);
        Label status = FieldGrid.label("status");
        grid.left(2, status, statuses);
        Label bodyLabel = FieldGrid.label("body");
        grid.left(4, bodyLabel, bodyKind);
        Label methodLabel = FieldGrid.label("method");
        grid.right(0, methodLabel, method);
        ofHttp.addAll(List.of(status, statuses, bodyLabel, bodyKind, methodLabel, method));
        fields.add(body, 0, 5, 4, 1);
        fields.add(parts.view(), 0, 6, 4, 1);
        fields.add(formPlace, 0, 7, 4, 1);
        fields.add(others, 0, 8, 4, 1);
        GridPane.setVgrow(formPlace, Priority.ALWAYS);
        GridPane.setVgrow(body, Priority.ALWAYS);
        fields.setMinWidth(400);
        answerAt.setPromptText("$, the whole answer");
        FieldGrid.dress(answerAt, "the part of the answer that is compared with other protocols", "answer-at",
                this::putAnswer);
        compared.getChildren().addAll(FieldGrid.label("compared across protocols: the part of the answer"), answerAt,
                names.view());
        ofTheCall.setId("use-those-of-the-call");
        ofTheCall.setOnAction(_ -> edit(place(), Map.of("expect", Optional.empty(), "capture", Optional.empty(),
                "answer", Optional.empty())));
        right = new VBox(10, languages, ofTheCall, headers.view(), expectations.view(), captures.view(), compared);
        HBox.setHgrow(right, Priority.ALWAYS);
        HBox.setHgrow(fields, Priority.ALWAYS);
        fields.setPrefWidth(100);
        fields.setMaxWidth(520);
        var inParts = bodyKind.valueProperty().isEqualTo("parts").and(isHttp);
        body.visibleProperty().bind(bodyKind.valueProperty().isNotEqualTo("none").and(inParts.not()).and(isHttp));
        parts.view().visibleProperty().bind(inParts);
        parts.view().managedProperty().bind(inParts);
        body.managedProperty().bind(body.visibleProperty());
        right.setPrefWidth(100);
        view.getChildren().addAll(fields, right);
    }

    /** The fields that are written in one line; those without a place of their own stand below the others. */
    private void lay(Session.State state) {
        if (isLaid) {
            return;
        }
        isLaid = true;
        lines.editors(state).forEach((field, editor) -> {
            Label label = editor.label();
            switch (field) {
                case "name" -> grid.left(0, label, editor.control());
                case "path" -> {
                    grid.wide(1, label, editor.control());
                    ofHttp.addAll(List.of(label, editor.control()));
                }
                case "timeout" -> grid.left(3, label, editor.control());
                case "thinkTime" -> grid.right(3, label, editor.control());
                default -> others.getChildren().add(WorkloadStation.named(editor));
            }
        });
    }

    /** The form of a protocol, made when it is first shown. */
    private FormEditor form(Protocol protocol) {
        return forms.computeIfAbsent(protocol.id(), _ -> new FormEditor(protocol,
                changes -> edit(path + "." + protocol.id(), changes),
                (field, told) -> session.state()
                        .ifPresent(state -> Offers.ask(state, protocol, field, told, rejected)),
                rejected));
    }

    /** Shows the call in the languages that the candidates speak and in which it can be asked. */
    private void showLanguages(Call call, boolean other) {
        var spoken = new TreeSet<String>();
        session.state().ifPresent(state -> state.study().candidates()
                .forEach(one -> spoken.add(one.address().protocol())));
        call.forms().forEach(form -> spoken.add(form.protocol()));
        if (!spoken.contains(language)) {
            language = spoken.isEmpty() ? Http.ID : spoken.first();
        }
        languages.setAlignment(Pos.CENTER_LEFT);
        languages.getChildren().setAll(FieldGrid.label("asked in"));
        languages.getChildren().addAll(spoken.stream().map(this::languageButton).toList());
        languages.setVisible(spoken.size() > 1);
        languages.setManaged(spoken.size() > 1);
        compared.setVisible(spoken.size() > 1);
        compared.setManaged(spoken.size() > 1);
        Optional<Protocol> protocol = Protocols.byId(language);
        boolean own = protocol.filter(Protocol::isCallsOwnForm).isPresent();
        isHttp.set(own);
        for (Node node : ofHttp) {
            node.setVisible(own);
            node.setManaged(own);
        }
        // beside the name, where there is no method
        List.of(within, withinLabel).forEach(node -> GridPane.setRowIndex(node, own ? 2 : 0));
        boolean sendsHeaders = protocol.filter(Protocol::sendsHeaders).isPresent();
        headers.view().setVisible(sendsHeaders);
        headers.view().setManaged(sendsHeaders);
        formPlace.getChildren().setAll(protocol.filter(one -> !one.isCallsOwnForm()).map(one -> {
            FormEditor form = form(one);
            form.show(call.form(one.id()).orElse(Form.of(one.id(), Map.of())), other);
            return List.of(form.view());
        }).orElse(List.of()));
    }

    private Node languageButton(String id) {
        var button = new ToggleButton(Protocols.byId(id).map(Protocol::words).orElse(id));
        button.setId("asked-in-" + id);
        button.setSelected(id.equals(language));
        button.setMnemonicParsing(false);
        button.setOnAction(_ -> askIn(id));
        return button;
    }

    /** Shows the call in a protocol. */
    void askIn(String id) {
        language = id;
        shown.ifPresent(call -> {
            filling = true;
            showLanguages(call, true);
            fillParts(call, true);
            filling = false;
        });
    }

    /** The call as a candidate gets it that speaks the language shown. */
    private Call spoken(Call call) {
        return call.in(language);
    }

    /** Where the study file holds what is expected in the language shown: the form, if there is one, else the call. */
    private String place() {
        return shown.flatMap(call -> call.form(language)).isPresent() ? path + "." + language : path;
    }

    private void fillParts(Call call, boolean other) {
        Call asked = spoken(call);
        fill(statuses, CallForm.statuses(asked), other);
        fill(within, CallForm.within(asked.expected()), other);
        fill(answerAt, asked.answer().at().equals("$") ? "" : asked.answer().at(), other);
        if (other) {
            List.of(expectations, captures, names).forEach(PartRows::dropUnfinished);
        }
        expectations.show(CallForm.expectations(asked));
        captures.show(CallForm.captures(asked));
        names.show(CallForm.names(asked.answer()));
        boolean own = call.form(language).filter(form -> form.expected().isPresent() || form.captures().isPresent()
                || form.answer().isPresent()).isPresent();
        ofTheCall.setText("for " + Protocols.byId(language).map(Protocol::words).orElse(language)
                + " alone; use what the call says");
        ofTheCall.setVisible(own);
        ofTheCall.setManaged(own);
    }

    Node view() {
        return view;
    }

    /** Shows {@code call}, which stands at {@code place} in the study file. */
    void show(Session.State state, String place, Call call) {
        lay(state);
        defaults = state.file().callDefaults();
        boolean other = !place.equals(path);
        path = place;
        lines.show(state, place);
        showHolding(state, call);
        filling = true;
        showLanguages(call, other);
        filling = false;
        if (!other && shown.filter(call::equals).isPresent()) {
            // what was chosen and is not whole yet, such as a kind of body without its text, stays
            return;
        }
        filling = true;
        path = place;
        fill(body, CallForm.bodyText(call), other);
        method.setValue(call.method());
        if (other || shown.filter(before -> before.body().equals(call.body())).isEmpty()) {
            // a kind that was chosen and has no text yet stays while another field is saved
            bodyKind.setValue(CallForm.bodyKind(call));
        }
        if (other) {
            List.of(parts, headers).forEach(PartRows::dropUnfinished);
        }
        parts.show(CallForm.parts(call));
        headers.show(CallForm.headers(call));
        fillParts(call, other);
        filling = false;
        shown = Optional.of(call);
    }

    private Optional<Call> shown = Optional.empty();

    /** Says in empty fields what holds for the call, from the defaults of all calls or from the load. */
    private void showHolding(Session.State state, Call call) {
        LoadProfile load = state.measured().load();
        lines.usually("timeout", Durations.write(call.timeout().orElse(load.timeout())));
        lines.usually("thinkTime", call.thinkTime().map(ThinkTimes::write)
                .orElseGet(() -> load.crowds().stream()
                        .filter(crowd -> state.measured().workload().of(crowd).calls().contains(call))
                        .map(Crowd::load).filter(LoadProfile.Closed.class::isInstance)
                        .map(LoadProfile.Closed.class::cast).map(users -> ThinkTimes.write(users.thinkTime()))
                        .findFirst().orElse("none")));
    }

    /** A field that is being written in is left alone, unless another call is shown. */
    private static void fill(TextInputControl field, String text, boolean other) {
        if (other || !field.isFocused()) {
            field.setText(text);
        }
    }

    private void putMethod() {
        if (!filling && !path.isEmpty() && shown.filter(call -> !call.method().equals(method.getValue())).isPresent()) {
            edit(Map.of("method", Optional.of(method.getValue())));
        }
    }

    private void putHeaders() {
        if (!filling && !path.isEmpty() && shown.filter(call -> !CallForm.headers(call).equals(headers.rows()))
                .isPresent()) {
            edit(Map.of("headers", CallForm.map(CallForm.ownHeaders(headers.rows(), defaults.headers()))));
        }
    }

    private void putExpectations() {
        boolean same = shown.map(this::spoken).filter(call -> statuses.getText().strip().equals(CallForm.statuses(call))
                && within.getText().strip().equals(CallForm.within(call.expected()))
                && expectations.rows().equals(CallForm.expectations(call))).isPresent();
        if (!filling && !path.isEmpty() && !same) {
            edit(place(), Map.of("expect", CallForm.expect(statuses.getText(), within.getText(),
                    expectations.rows())));
        }
    }

    private void putCaptures() {
        boolean same = shown.map(this::spoken).filter(call -> captures.rows().equals(CallForm.captures(call)))
                .isPresent();
        if (!filling && !path.isEmpty() && !same) {
            edit(place(), Map.of("capture", CallForm.capture(captures.rows())));
        }
    }

    /** Changes what is said of the call in the language that is shown. */
    void change(Function<Call, Map<String, Optional<Object>>> changes) {
        shown.map(this::spoken).ifPresent(call -> edit(place(), changes.apply(call)));
    }

    private void putAnswer() {
        boolean same = shown.map(this::spoken).filter(call -> CallForm.answer(answerAt.getText(), names.rows())
                .equals(CallForm.answer(call.answer().at(), CallForm.names(call.answer())))).isPresent();
        if (!filling && !path.isEmpty() && !same) {
            edit(place(), Map.of("answer", CallForm.answer(answerAt.getText(), names.rows())));
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
        edit(path, changes);
    }

    private void edit(String place, Map<String, Optional<Object>> changes) {
        rejected.accept("");
        session.edit(List.of(new Edit.Put(place, changes)), why -> rejected
                .accept(why + " The study keeps its last good state."));
    }
}
