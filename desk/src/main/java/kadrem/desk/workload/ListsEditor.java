package kadrem.desk.workload;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.LongStream;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.ValueList;
import kadrem.desk.Session;
import kadrem.desk.form.FormPane;
import kadrem.desk.form.GroupForm;
import kadrem.files.study.Edit;

/** The value lists of the workload: each with a preview, to be changed or removed, and a form for one more. */
final class ListsEditor {
    private static final int PREVIEWED = 5;
    private static final String PATH = "workload.values";
    private static final String KIND = "kind";

    private final Session session;
    private final Consumer<String> rejected;
    private final VBox lists = new VBox(4);
    private final Runnable opened;
    private final FormPane form = new FormPane("list-form");
    private final VBox view;

    /** @param opened told when the form is shown, which stands below the lists */
    ListsEditor(Session session, Consumer<String> rejected, Runnable opened) {
        this.session = session;
        this.rejected = rejected;
        this.opened = opened;
        var add = new Button("Add a list");
        add.setId("add-list");
        add.setOnAction(_ -> add());
        view = new VBox(6, lists, add, form.view());
    }

    Node view() {
        return view;
    }

    /** @param warnings what is odd about the workload, in sentences */
    void show(List<ValueList> values, List<String> warnings) {
        lists.getChildren().clear();
        for (int i = 0; i < values.size(); i++) {
            lists.getChildren().add(row(i, values.get(i)));
        }
        if (values.isEmpty()) {
            lists.getChildren()
                    .add(styled("None yet: every user asks for the same, and a cache may answer it.", "fact"));
        }
        warnings.forEach(warning -> lists.getChildren().add(styled(warning, "problem")));
    }

    private Node row(int index, ValueList list) {
        var name = new Label("{{" + list.name() + "}}");
        name.getStyleClass().add("output");
        name.setMinWidth(130);
        var words = new Label(words(list));
        words.setWrapText(true);
        HBox.setHgrow(words, Priority.ALWAYS);
        words.setMaxWidth(Double.MAX_VALUE);
        var change = small("Change", "change-list-" + list.name(), () -> change(index, list));
        var remove = small("Remove", "remove-list-" + list.name(), () -> {
            // what is being changed may be this list, or have another place after it
            form.close();
            edit(new Edit.Remove(PATH, index));
        });
        var box = new HBox(8, name, words, change, remove);
        box.setAlignment(Pos.CENTER_LEFT);
        return box;
    }

    private static Button small(String text, String id, Runnable action) {
        var button = new Button(text);
        button.getStyleClass().add("small-button");
        button.setId(id);
        button.setMinWidth(javafx.scene.layout.Region.USE_PREF_SIZE);
        button.setAccessibleText(text + " " + id.replaceFirst(".*-list-", ""));
        button.setOnAction(_ -> action.run());
        return button;
    }

    private static Label styled(String text, String style) {
        var label = new Label(text);
        label.setWrapText(true);
        label.getStyleClass().add(style);
        return label;
    }

    private void add() {
        session.state().ifPresent(state -> open(state, "A new value list", Map.of(KIND, "numbers"),
                made -> new Edit.Insert(PATH, state.measured().workload().values().size(), made)));
    }

    private void open(Session.State state, String heading, Map<String, Object> shown,
            Function<Map<String, Object>, Edit> edit) {
        form.open(heading, state.file().grammar().group(PATH), shown, "list",
                made -> edit(edit.apply(GroupForm.map(made))));
        opened.run();
    }

    private void change(int index, ValueList list) {
        session.state().ifPresent(state -> {
            String path = PATH + "[" + index + "]";
            Map<String, Object> written = GroupForm.map(state.file().written(path));
            // a kind that is seen from the other fields is said in the form, which asks for what belongs to it
            String kind = written.containsKey("file") ? "column" : "numbers";
            var shown = new LinkedHashMap<>(written);
            shown.putIfAbsent(KIND, kind);
            open(state, "Value list " + list.name(), shown, made -> {
                var after = new LinkedHashMap<>(made);
                if (!written.containsKey(KIND)) {
                    after.remove(KIND, kind);
                }
                return Edit.Put.turning(path, written, after);
            });
        });
    }

    private void edit(Edit edit) {
        rejected.accept("");
        session.edit(List.of(edit), why -> rejected.accept(why + " The study keeps its last good state."),
                form::close);
    }

    private static String words(ValueList list) {
        String kind = switch (list) {
            case ValueList.NumberRange range -> "whole numbers " + range.from() + " to " + range.to();
            case ValueList.Zipf zipf -> "numbers " + zipf.from() + " to " + zipf.to() + ", few asked for often (Zipf, "
                    + zipf.exponent() + ")";
            case ValueList.Listed listed -> listed.file().isEmpty()
                    ? listed.rows().size() + " values"
                    : "column " + listed.column() + " of " + listed.file() + ", " + listed.rows().size() + " rows";
            case ValueList.Uuid _ -> "identifiers (UUID)";
            case ValueList.Text text -> "words of " + text.length() + " letters";
            case ValueList.Timestamp time -> "instants from " + time.from() + " to " + time.to();
        };
        String drawn = switch (list.draw().order()) {
            case RANDOM -> list.draw().keep() == ValueList.Keep.CALL ? ", new for each call" : ", one for a visit";
            case SEQUENTIAL -> ", one after the other";
            case PER_USER -> ", one for each user";
        };
        String preview = LongStream.range(0, Math.min(PREVIEWED, list.size())).mapToObj(list::text)
                .collect(Collectors.joining(", "));
        return kind + drawn + ": " + preview + (list.size() > PREVIEWED ? ", …" : "");
    }
}
