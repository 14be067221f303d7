package kadrem.desk.form;

import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.collections.FXCollections;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Control;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.Region;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Kind;

/** The editor of a field that is written in one line: a text to type, or a word to choose. */
public final class FieldEditor {
    private final Field field;
    private final Control control;
    private final Optional<TextField> line;
    private final Optional<ComboBox<String>> choice;
    /** What the file says. */
    private Optional<String> written = Optional.empty();
    private boolean filling;

    /** @param id of its control */
    public FieldEditor(Field field, String id) {
        this.field = field;
        List<String> options = field.kind() instanceof Kind.Flag ? List.of("true", "false") : field.options();
        if (options.isEmpty()) {
            var text = new TextField();
            text.setPromptText(prompt(field));
            text.getStyleClass().add("code-field");
            line = Optional.of(text);
            choice = Optional.empty();
            control = text;
        } else {
            var box = new ComboBox<>(FXCollections.observableArrayList(options));
            box.getStyleClass().add("row-choice");
            box.setPromptText(prompt(field));
            if (field.usual().isEmpty()) {
                box.getItems().addFirst("");
            }
            box.setValue(field.usual().orElse(null));
            line = Optional.empty();
            choice = Optional.of(box);
            control = box;
        }
        control.setId(id);
        control.setAccessibleText(field.words());
        control.setTooltip(new Tooltip(field.words()));
    }

    /** What stands in an empty field: what holds where it is left out, or an example. */
    static String prompt(Field field) {
        return field.usual().or(field::otherwise).orElse("as " + field.example().replaceAll("^\"|\"$", ""));
    }

    /** The name of a field as words: readyWithin becomes "ready within". */
    static String words(String name) {
        return name.replaceAll("(?<=[a-z])(?=[A-Z])", " ").toLowerCase(Locale.ROOT);
    }

    /** Its name, to stand before it. */
    public Label label() {
        var label = new Label(words(field.name()));
        label.getStyleClass().add("attribute");
        label.setMinWidth(Region.USE_PREF_SIZE);
        label.setTooltip(new Tooltip(field.words()));
        label.setLabelFor(control);
        return label;
    }

    public Field field() {
        return field;
    }

    public Control control() {
        return control;
    }

    /** Says in the empty field what holds where it is left out. */
    public void usually(String words) {
        line.ifPresent(text -> text.setPromptText(words));
    }

    /**
     * Shows what the file says. What the user is writing and has not left yet stays, unless it was about something else.
     *
     * @param isOther whether the field of another place is shown than before
     */
    public void show(Optional<Object> now, boolean isOther) {
        String before = written.orElse("");
        written = now.map(Object::toString);
        filling = true;
        line.filter(text -> isOther || !text.isFocused() || text.getText().strip().equals(before))
                .ifPresent(text -> text.setText(written.orElse("")));
        // without a word it shows what holds
        choice.ifPresent(box -> box.setValue(written.or(field::usual).orElse(null)));
        filling = false;
    }

    /** Shows what the file may come to say, as while a handle is dragged. */
    public void preview(String text) {
        line.ifPresent(one -> one.setText(text));
    }

    /** What the file is to say; empty where the field is left out. */
    public Optional<Object> value() {
        String text = line.map(TextField::getText).or(() -> choice.map(ComboBox::getValue)).map(String::strip)
                .orElse("");
        boolean unsaid = choice.isPresent() && !field.required() && written.isEmpty()
                && text.equals(field.usual().orElse(""));
        return text.isEmpty() || unsaid ? Optional.empty() : Optional.of(text);
    }

    /** @param changed given what the file is to say when the field is left, or Enter is pressed, and holds something else */
    public void onChange(Consumer<Optional<Object>> changed) {
        Runnable commit = () -> {
            Optional<Object> value = value();
            if (!filling && !Objects.equals(value.map(Object::toString), written)) {
                changed.accept(value);
            }
        };
        line.ifPresent(text -> {
            text.setOnAction(_ -> commit.run());
            text.focusedProperty().addListener((_, _, focused) -> {
                if (!focused) {
                    commit.run();
                }
            });
        });
        choice.ifPresent(box -> box.setOnAction(_ -> commit.run()));
    }

    /** @param told whenever another word is chosen */
    void onChosen(Runnable told) {
        choice.ifPresent(box -> box.valueProperty().addListener((_, _, _) -> told.run()));
    }
}
