package kadrem.desk.load;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.GridPane;
import kadrem.desk.Session;
import kadrem.desk.form.FieldEditor;
import kadrem.desk.form.LineFields;
import kadrem.files.study.Edit;

/** The figures of load and plan that are typed one by one. Only those are shown that mean something for the present load. */
final class LoadFields {
    private static final double NAME_WIDTH = 172;
    private static final double FIELD_WIDTH = 130;
    private static final String PLAN = "plan";

    /** A group of the file with the heading of its figures; without one where it is the load's own. */
    private record Part(String path, String heading, Label title, LineFields fields) {
        Part(String path, String heading, LineFields fields) {
            this(path, heading, new Label(heading), fields);
            title.getStyleClass().add("muted");
        }

        /** A search, a timeline or a curve is shown where there is one. */
        boolean isThere(Session.State state) {
            return path.equals(PLAN) || state.file().has(path);
        }
    }

    private final GridPane view = new GridPane();
    private final List<Part> parts;
    private List<Node> shown = List.of();

    LoadFields(Session session, Consumer<String> rejected) {
        view.getStyleClass().add("figures-grid");
        view.getColumnConstraints().addAll(new ColumnConstraints(NAME_WIDTH), new ColumnConstraints(FIELD_WIDTH));
        parts = List.of(
                new Part("load", "", new LineFields(session, "load", "load", rejected, "model")),
                new Part("load.timeline", "Timeline",
                        new LineFields(session, "load.timeline", "load-timeline", rejected)),
                new Part("load.curve", "Curve", new LineFields(session, "load.curve", "load-curve", rejected)),
                new Part("load.ladder", "Ladder", new LineFields(session, "load.ladder", "load-ladder", rejected)),
                new Part("load.ceiling", "Ceiling search",
                        new LineFields(session, "load.ceiling", "load-ceiling", rejected)),
                new Part(PLAN, "Plan", new LineFields(session, PLAN, PLAN, rejected, "order")));
    }

    Node view() {
        return view;
    }

    void show(Session.State state) {
        var rows = new ArrayList<List<Node>>();
        for (Part part : parts) {
            part.fields().show(state, part.path());
            List<FieldEditor> meant = part.isThere(state) ? part.fields().meant(state) : List.of();
            if (!meant.isEmpty() && !part.heading().isEmpty()) {
                rows.add(List.of(part.title()));
            }
            meant.forEach(editor -> rows.add(List.of(editor.label(), editor.control())));
        }
        if (!rows.stream().map(List::getLast).toList().equals(shown)) {
            shown = rows.stream().map(List::getLast).toList();
            view.getChildren().clear();
            for (int row = 0; row < rows.size(); row++) {
                view.addRow(row, rows.get(row).toArray(Node[]::new));
            }
        }
    }

    /** Writes other figures into the fields while a handle is dragged. */
    void preview(Session.State state, List<Edit> edits) {
        for (Part part : parts) {
            edits.stream().filter(Edit.Put.class::isInstance).map(Edit.Put.class::cast)
                    .filter(edit -> edit.path().equals(part.path()))
                    .forEach(edit -> part.fields().editors(state).forEach((name, editor) -> {
                        if (edit.fields().containsKey(name)) {
                            editor.preview(edit.fields().get(name).map(Object::toString).orElse(""));
                        }
                    }));
        }
    }
}
