package kadrem.desk.rehearsal;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.control.TextInputControl;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Agreement;
import kadrem.core.study.Written;
import kadrem.desk.Session;
import kadrem.files.study.Edit;

/** When two answers count as the same: what is left out, how exact numbers must be, and what was accepted. */
final class AgreementRules {
    private final Session session;
    private final Consumer<String> rejected;
    private final TextField headers = new TextField();
    private final TextArea paths = new TextArea();
    private final TextField tolerance = new TextField();
    private final CheckBox sets = new CheckBox("the order inside JSON arrays does not matter");
    private final VBox accepted = new VBox(3);
    private final VBox view;
    private boolean filling;

    AgreementRules(Session session, Consumer<String> rejected) {
        this.session = session;
        this.rejected = rejected;
        var heading = new Label("When answers count as the same");
        heading.getStyleClass().add("section-heading");
        field(headers, "ignore-headers", "headers that may differ",
                () -> put("ignoreHeaders", words("[\\s,]+", headers)));
        headers.setPromptText("ETag, X-Trace");
        field(paths, "ignore-json", "JSONPaths that may differ, a line each",
                () -> put("ignoreJson", words("\\R+", paths)));
        paths.setPromptText("$..updatedAt");
        paths.setPrefRowCount(2);
        field(tolerance, "tolerance", "numbers may differ by", () -> put("tolerance",
                tolerance.getText().isBlank() ? Optional.empty() : Optional.of(tolerance.getText().strip())));
        tolerance.setPromptText("0 %");
        tolerance.setPrefWidth(80);
        sets.setId("arrays-as-sets");
        sets.setOnAction(_ -> put("arrays", Optional.of(sets.isSelected() ? "as-sets" : "in-order")));
        var numbers = new HBox(16, row("numbers may differ by", tolerance), sets);
        numbers.setAlignment(Pos.CENTER_LEFT);
        view = new VBox(6, heading, row("headers that may differ", headers), row("JSONPaths that may differ", paths),
                numbers, accepted);
    }

    private static HBox row(String name, TextInputControl field) {
        var label = new Label(name);
        label.getStyleClass().add("attribute");
        label.setMinWidth(170);
        HBox.setHgrow(field, Priority.ALWAYS);
        var box = new HBox(6, label, field);
        box.setAlignment(Pos.CENTER_LEFT);
        return box;
    }

    private static void field(TextInputControl field, String id, String what, Runnable commit) {
        field.setId(id);
        field.setAccessibleText(what);
        field.getStyleClass().add("code-field");
        Runnable changed = () -> {
            if (!field.getText().strip().equals(field.getUserData())) {
                field.setUserData(field.getText().strip());
                commit.run();
            }
        };
        if (field instanceof TextField single) {
            single.setOnAction(_ -> changed.run());
        }
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                changed.run();
            }
        });
    }

    private static Optional<Object> words(String separator, TextInputControl field) {
        List<String> words = Arrays.stream(field.getText().split(separator)).map(String::strip)
                .filter(word -> !word.isEmpty()).toList();
        return words.isEmpty() ? Optional.empty() : Optional.of(words);
    }

    Node view() {
        return view;
    }

    void show(Agreement agreement) {
        filling = true;
        fill(headers, String.join(", ", agreement.ignoredHeaders()));
        fill(paths, String.join("\n", agreement.ignoredJson()));
        fill(tolerance, agreement.tolerance() == 0 ? "" : Written.significant(agreement.tolerance() * 100) + "%");
        sets.setSelected(agreement.arraysAsSets());
        accepted.getChildren().clear();
        for (int i = 0; i < agreement.accepted().size(); i++) {
            accepted.getChildren().add(accepted(i, agreement.accepted().get(i)));
        }
        filling = false;
    }

    private Node accepted(int index, Agreement.Accepted one) {
        var words = new Label(one.call() + " " + one.where() + " is accepted: " + one.reason());
        words.setWrapText(true);
        words.getStyleClass().add("muted");
        var withdraw = new Button("Withdraw");
        withdraw.getStyleClass().add("small-button");
        withdraw.setId("withdraw-" + index);
        withdraw.setMinWidth(javafx.scene.layout.Region.USE_PREF_SIZE);
        withdraw.setAccessibleText("withdraw: " + words.getText());
        withdraw.setOnAction(_ -> edit(new Edit.Remove("rehearsal.accepted", index)));
        HBox.setHgrow(words, Priority.ALWAYS);
        words.setMaxWidth(Double.MAX_VALUE);
        return new HBox(8, words, withdraw);
    }

    private static void fill(TextInputControl field, String text) {
        if (!field.isFocused()) {
            field.setText(text);
            field.setUserData(text);
        }
    }

    private void put(String name, Optional<Object> value) {
        if (!filling) {
            edit(new Edit.Put("rehearsal", Map.of(name, value)));
        }
    }

    private void edit(Edit edit) {
        session.edit(List.of(edit), why -> rejected.accept(why + " The study keeps its last good state."));
    }
}
