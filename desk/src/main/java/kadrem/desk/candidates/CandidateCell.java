package kadrem.desk.candidates;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

import javafx.beans.property.StringProperty;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Control;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Group;
import kadrem.desk.Session;
import kadrem.desk.form.FormPane;

/** What the study says of an attribute of a candidate: a field, or a button that opens a form. */
final class CandidateCell {
    private final Session session;
    private final CandidateEdits edits;
    private final FormPane form;
    private final Attribute attribute;
    private final Control control;
    private Candidate candidate;
    private String text = "";

    /** @param field that the attribute is changed by; empty for one that the study file does not have */
    CandidateCell(Session session, CandidateEdits edits, FormPane form, Candidate candidate, Attribute attribute,
            Optional<Field> field) {
        this.session = session;
        this.edits = edits;
        this.form = form;
        this.attribute = attribute;
        this.candidate = candidate;
        String name = attribute.field().apply(candidate);
        control = field.flatMap(one -> one.kind().below()).<Control>map(group -> opening(name, group))
                .orElseGet(() -> field.isPresent() ? line(name) : new Label());
        control.setAccessibleText(attribute.name() + " of " + candidate.name());
        control.getStyleClass().add("fact-field");
        control.setMaxWidth(Double.MAX_VALUE);
    }

    Control view() {
        return control;
    }

    /** A value in one line, which is saved when it is left. */
    private TextField line(String name) {
        var field = new TextField();
        field.setPromptText(attribute.hint());
        field.setId(id());
        Runnable commit = () -> {
            // a field that was replaced loses the focus too, a moment later
            boolean shown = field.getParent() != null;
            if (shown && !field.getText().strip().equals(text)) {
                edits.put(candidate, name, Attribute.typed(field.getText()), () -> {
                });
            }
        };
        field.setOnAction(_ -> commit.run());
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                commit.run();
            }
        });
        return field;
    }

    private String id() {
        return attribute.name().replace(' ', '-') + "-" + candidate.id();
    }

    /** What a group says, in a few words; a press opens its form. */
    private Button opening(String name, Group group) {
        var button = new Button();
        button.setId("edit-" + id());
        button.setMnemonicParsing(false);
        button.setOnAction(_ -> session.state().ifPresent(state -> {
            Object written = state.file().written(CandidateEdits.path(state, candidate) + "." + name)
                    .orElse(Map.of());
            form.open((name.equals(candidate.address().protocol()) ? attribute.name() : words(name)) + " of "
                    + candidate.name(), group, written, "form-" + name,
                    value -> edits.put(candidate, name, value, form::close));
        }));
        return button;
    }

    void show(Study study) {
        study.candidate(candidate.id()).ifPresent(now -> candidate = now);
        List<String> texts = study.candidates().stream().map(attribute.text()).toList();
        boolean differs = texts.stream().distinct().count() > 1;
        text = attribute.text().apply(candidate);
        switch (control) {
            case TextField field when field.isFocused() -> {
                // whoever writes in it goes on
            }
            case TextField field -> change(field.textProperty(), text);
            case Button button -> {
                change(button.textProperty(), text.isEmpty() ? attribute.hint() : text);
                style("says", !text.isEmpty());
                style("says-nothing", text.isEmpty());
            }
            default -> change(((Label) control).textProperty(), text);
        }
        style("differs", differs);
        style("same", !differs);
        String tip = (differs ? "differs between the candidates" : "the same for all")
                + (text.isEmpty() ? "" : ": " + text);
        if (control.getTooltip() == null || !control.getTooltip().getText().equals(tip)) {
            control.setTooltip(new Tooltip(tip));
        }
    }

    private static void change(StringProperty property, String words) {
        if (!words.equals(property.get())) {
            property.set(words);
        }
    }

    private void style(String name, boolean on) {
        if (on != control.getStyleClass().contains(name)) {
            if (on) {
                control.getStyleClass().add(name);
            } else {
                control.getStyleClass().remove(name);
            }
        }
    }

    private static String words(String field) {
        return field.equals("signIn") ? "Sign-in" : field.substring(0, 1).toUpperCase(Locale.ROOT) + field.substring(1);
    }
}
