package kadrem.desk.workload;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.function.Consumer;

import javafx.collections.FXCollections;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.control.TextInputControl;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Kind;
import kadrem.core.study.Form;
import kadrem.core.study.Protocol;
import kadrem.load.drive.Offer;

/** How a call is asked in a protocol other than HTTP: the fields that its driver tells, each saved when it is left. */
final class FormEditor {
    private static final int FEW_ROWS = 3;
    private static final int ROWS = 6;

    private final Protocol protocol;
    private final Consumer<Map<String, Optional<Object>>> changed;
    private final Consumer<String> tell;
    private final Map<String, TextInputControl> texts = new LinkedHashMap<>();
    private final Map<String, ComboBox<String>> choices = new LinkedHashMap<>();
    /** What is offered for a field, as far as it was asked for. */
    private final Map<String, List<Offer>> offers = new LinkedHashMap<>();
    /** What stands in a field because it came with an offer; another offer may replace it. */
    private final Map<String, String> begun = new LinkedHashMap<>();
    private final GridPane fields = new GridPane();
    private final VBox view;
    private Optional<Form> shown = Optional.empty();
    private boolean filling;

    /**
     * @param changed takes what the study file is to hold of fields, by their names
     * @param offer asked to fill a list with what a field may be, when the list is opened
     * @param tell takes a sentence for the user
     */
    FormEditor(Protocol protocol, Consumer<Map<String, Optional<Object>>> changed,
            BiConsumer<Field, Consumer<List<Offer>>> offer, Consumer<String> tell) {
        this.protocol = protocol;
        this.changed = changed;
        this.tell = tell;
        fields.setHgap(8);
        fields.setVgap(5);
        var grow = new ColumnConstraints();
        grow.setHgrow(Priority.ALWAYS);
        fields.getColumnConstraints().addAll(new ColumnConstraints(), grow);
        int row = 0;
        for (Field field : protocol.fields()) {
            row = add(field, row, offer);
        }
        view = new VBox(fields);
        VBox.setVgrow(fields, Priority.ALWAYS);
    }

    private int add(Field field, int row, BiConsumer<Field, Consumer<List<Offer>>> offer) {
        var label = new Label(field.words());
        label.getStyleClass().add("attribute");
        label.setMinWidth(Region.USE_PREF_SIZE);
        String id = "form-" + protocol.id() + "-" + field.name();
        switch (field.kind()) {
            case Kind.Choice _ -> {
                var choice = new ComboBox<>(FXCollections.observableArrayList(field.options()));
                choice.setId(id);
                choice.setAccessibleText(field.words());
                choice.setOnAction(_ -> put(field, choice.getValue()));
                choices.put(field.name(), choice);
                fields.addRow(row, label, choice);
                return row + 1;
            }
            case Kind.Lines _,Kind.Texts _ -> {
                var area = new TextArea();
                area.setPrefRowCount(field.required() ? ROWS : FEW_ROWS);
                area.getStyleClass().add("exchange-text");
                dress(field, area, id);
                label.setText(field.words() + (field.isList() ? ", one a line" : ""));
                fields.add(label, 0, row, 2, 1);
                fields.add(area, 0, row + 1, 2, 1);
                if (field.required()) {
                    GridPane.setVgrow(area, Priority.ALWAYS);
                }
                return row + 2;
            }
            default -> {
                Node node = field.offered() ? offered(field, id, offer) : line(field, id);
                fields.addRow(row, label, node);
                return row + 1;
            }
        }
    }

    private TextField line(Field field, String id) {
        var text = new TextField();
        text.getStyleClass().add("code-field");
        text.setOnAction(_ -> put(field, text.getText()));
        dress(field, text, id);
        return text;
    }

    /** A line with a list of what the server has, asked for when the list is opened. */
    private Node offered(Field field, String id, BiConsumer<Field, Consumer<List<Offer>>> offer) {
        var box = new ComboBox<String>();
        box.setEditable(true);
        box.setMaxWidth(Double.MAX_VALUE);
        box.setId(id + "-offers");
        box.setAccessibleText(field.words() + ", with what the server offers");
        box.setOnShowing(_ -> {
            if (box.getItems().isEmpty()) {
                offer.accept(field, found -> {
                    offers.put(field.name(), found);
                    box.getItems().setAll(found.stream().map(Offer::text).toList());
                    box.hide();
                    box.show();
                });
            }
        });
        box.setOnAction(_ -> choose(field, box.getEditor().getText()));
        dress(field, box.getEditor(), id);
        return box;
    }

    private void dress(Field field, TextInputControl text, String id) {
        text.setId(id);
        text.setAccessibleText(field.words());
        text.setPromptText(field.example());
        text.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                put(field, text.getText());
            }
        });
        texts.put(field.name(), text);
    }

    Node view() {
        return view;
    }

    /** @param other whether it is another call than the one shown before */
    void show(Form form, boolean other) {
        filling = true;
        shown = Optional.of(form);
        if (other) {
            begun.clear();
        }
        texts.forEach((name, text) -> {
            if (other || !text.isFocused()) {
                text.setText(form.text(name));
            }
        });
        for (Field field : protocol.fields()) {
            ComboBox<String> choice = choices.get(field.name());
            if (choice != null) {
                choice.setValue(form.text(field.name()).isEmpty()
                        ? field.options().getFirst()
                        : form.text(field.name()));
            }
        }
        filling = false;
    }

    /** Takes an offer with what comes beside it, in one edit; where the user wrote something, nothing beside it is touched. */
    private void choose(Field field, String text) {
        Optional<Offer> offer = offers.getOrDefault(field.name(), List.of()).stream()
                .filter(one -> one.text().equals(text)).findFirst();
        Form form = shown.orElse(null);
        if (filling || form == null || offer.isEmpty() || text.equals(form.text(field.name()))) {
            put(field, text);
            return;
        }
        var edit = new LinkedHashMap<String, Optional<Object>>();
        edit.put(field.name(), Optional.of(text));
        var beside = new LinkedHashMap<>(offer.get().beside());
        beside.keySet().retainAll(texts.keySet());
        List<String> kept = texts.entrySet().stream().filter(one -> beside.containsKey(one.getKey()))
                .filter(one -> !one.getValue().getText().isBlank()
                        && !one.getValue().getText().strip().equals(begun.get(one.getKey())))
                .map(Map.Entry::getKey).sorted().toList();
        if (kept.isEmpty()) {
            beside.forEach((name, beginning) -> {
                edit.put(name, beginning.isBlank() ? Optional.empty() : Optional.of(beginning));
                begun.put(name, beginning.strip());
            });
        }
        changed.accept(edit);
        if (!kept.isEmpty()) {
            tell.accept("Your " + String.join(" and ", kept) + (kept.size() == 1 ? " stays" : " stay")
                    + " as written; to have one written for " + text + ", empty it and choose again.");
        }
    }

    private void put(Field field, String text) {
        String before = shown.map(form -> form.text(field.name())).orElse("");
        boolean usual = !field.options().isEmpty() && text.equals(field.options().getFirst());
        boolean same = text.strip().equals(before.strip()) || usual && before.isEmpty();
        if (filling || shown.isEmpty() || same) {
            return;
        }
        Optional<Object> value = text.isBlank() || usual
                ? Optional.empty()
                : Optional.of(field.isList()
                        ? text.lines().map(String::strip).filter(one -> !one.isEmpty()).toList()
                        : text.strip());
        changed.accept(Map.of(field.name(), value));
    }
}
