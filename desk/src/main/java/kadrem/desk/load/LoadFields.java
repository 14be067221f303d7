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

    /**
     * A group of the file with the heading of its figures; without one where it is the load's own.
     *
     * @param below the group's path from where the load stands; of the plan its own
     */
    private record Part(String below, String heading, Label title, LineFields fields) {
        Part(String below, String heading, LineFields fields) {
            this(below, heading, new Label(heading), fields);
            title.getStyleClass().add("muted");
        }

        /** A search, a timeline or a curve is shown where there is one. */
        boolean isThere(Session.State state, String where) {
            return below.equals(PLAN) || state.file().has(path(where));
        }

        String path(String where) {
            return below.equals(PLAN) ? PLAN : where + below;
        }
    }

    private final GridPane view = new GridPane();
    private final List<Part> parts;
    private List<Node> shown = List.of();

    /** Of the load, and of the plan with it. */
    static LoadFields ofLoad(Session session, Consumer<String> rejected) {
        return new LoadFields(List.of(
                new Part("", "", new LineFields(session, "load", "load", rejected, "model")),
                part(session, "load", "load", ".timeline", "Timeline", rejected),
                part(session, "load", "load", ".curve", "Curve", rejected),
                part(session, "load", "load", ".ladder", "Ladder", rejected),
                part(session, "load", "load", ".ceiling", "Ceiling search", rejected),
                new Part(PLAN, "Plan", new LineFields(session, PLAN, PLAN, rejected, "order"))));
    }

    /** Of one crowd. */
    static LoadFields ofCrowd(Session session, Consumer<String> rejected) {
        return new LoadFields(List.of(
                new Part("", "", new LineFields(session, CrowdEdits.CROWDS, "crowd", rejected, "model", "name")),
                part(session, CrowdEdits.CROWDS, "crowd", ".timeline", "Timeline", rejected),
                part(session, CrowdEdits.CROWDS, "crowd", ".curve", "Curve", rejected)));
    }

    private static Part part(Session session, String grammarPath, String id, String below, String heading,
            Consumer<String> rejected) {
        return new Part(below, heading,
                new LineFields(session, grammarPath + below, id + below.replace('.', '-'), rejected));
    }

    private LoadFields(List<Part> parts) {
        this.parts = parts;
        view.getStyleClass().add("figures-grid");
        view.getColumnConstraints().addAll(new ColumnConstraints(NAME_WIDTH), new ColumnConstraints(FIELD_WIDTH));
    }

    Node view() {
        return view;
    }

    /** @param where the load or the crowd stands in the file */
    void show(Session.State state, String where) {
        var rows = new ArrayList<List<Node>>();
        for (Part part : parts) {
            part.fields().show(state, part.path(where));
            List<FieldEditor> meant = part.isThere(state, where) ? part.fields().meant(state) : List.of();
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
                    .filter(edit -> edit.path().equals(part.path(CrowdEdits.LOAD)))
                    .forEach(edit -> part.fields().editors(state).forEach((name, editor) -> {
                        if (edit.fields().containsKey(name)) {
                            editor.preview(edit.fields().get(name).map(Object::toString).orElse(""));
                        }
                    }));
        }
    }
}
