package kadrem.desk.workload;

import java.util.Arrays;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.FlowPane;
import kadrem.files.imports.log.LogChoice;

/** What is taken of a log that is imported. */
final class LogOptions {
    private final CheckBox failed = new CheckBox("what was answered 4xx or 5xx, too");
    private final CheckBox bodies = new CheckBox("POST, PUT, PATCH and DELETE, without their bodies");
    private final TextField keep = new TextField();
    private final TextField fields = new TextField();
    private final FlowPane view = new FlowPane(14, 6);

    /** @param changed after a choice was made */
    LogOptions(Runnable changed) {
        failed.setId("log-failed");
        failed.setOnAction(_ -> changed.run());
        bodies.setId("log-bodies");
        bodies.setOnAction(_ -> changed.run());
        view.getChildren().addAll(failed, bodies,
                named("keep the values of", keep, "log-keep", "q, users",
                        "Parameters, and parts of a path, whose values are taken although they may tell of people",
                        changed),
                named("fields", fields, "log-fields", "time=ts, path=url",
                        "Of JSON lines or CSV: the fields that tell time, path, method and status; found by how values look"
                                + " where they are left out",
                        changed));
        show(false);
    }

    private static Node named(String name, TextField field, String id, String prompt, String words, Runnable changed) {
        field.setId(id);
        field.setPromptText(prompt);
        field.setPrefColumnCount(14);
        field.setAccessibleText(name);
        field.setTooltip(new Tooltip(words));
        field.getStyleClass().add("code-field");
        field.setOnAction(_ -> changed.run());
        var label = new Label(name, field);
        label.setContentDisplay(javafx.scene.control.ContentDisplay.RIGHT);
        return label;
    }

    Node view() {
        return view;
    }

    /** Only of a log there is something to choose. */
    void show(boolean log) {
        view.setVisible(log);
        view.setManaged(log);
    }

    LogChoice choice() {
        Set<String> methods = new HashSet<>(LogChoice.USUAL.methods());
        if (bodies.isSelected()) {
            methods.addAll(Set.of("POST", "PUT", "PATCH", "DELETE"));
        }
        Map<String, String> told = new LinkedHashMap<>();
        for (String one : parts(fields.getText())) {
            String[] pair = one.split("=", 2);
            told.put(pair[0].strip(), pair.length > 1 ? pair[1].strip() : "");
        }
        return new LogChoice(told, methods, failed.isSelected(), parts(keep.getText()), LogChoice.USUAL.most());
    }

    private static Set<String> parts(String text) {
        return Arrays.stream(text.split(",")).map(String::strip).filter(one -> !one.isEmpty())
                .collect(Collectors.toCollection(java.util.LinkedHashSet::new));
    }
}
