package kadrem.desk.workload;

import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;
import java.util.function.Consumer;
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
import kadrem.files.study.Edit;

/** The value lists of the workload: each with a preview, to be changed or removed, and a form for a new one. */
final class ListsEditor {
    private static final int PREVIEWED = 5;
    private static final String PATH = "workload.values";

    private final Session session;
    private final Consumer<String> rejected;
    private final VBox lists = new VBox(4);
    private final ListForm form = new ListForm(this::save, this::leave);
    private final VBox view = new VBox(6, lists, form.view());
    private OptionalInt changing = OptionalInt.empty();

    ListsEditor(Session session, Consumer<String> rejected) {
        this.session = session;
        this.rejected = rejected;
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
        var change = small("Change", "change-list-" + list.name(), () -> {
            changing = OptionalInt.of(index);
            form.change(list);
        });
        var remove = small("Remove", "remove-list-" + list.name(), () -> {
            leave();
            edit(List.of(new Edit.Remove(PATH, index)), this::leave);
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

    private void leave() {
        changing = OptionalInt.empty();
        form.empty();
    }

    private void save() {
        session.state().ifPresent(state -> {
            int size = state.measured().workload().values().size();
            int place = changing.orElse(size);
            List<Edit> edits = new ArrayList<>();
            if (changing.isPresent()) {
                edits.add(new Edit.Remove(PATH, place));
            }
            edits.add(new Edit.Insert(PATH, place, form.list()));
            edit(edits, this::leave);
        });
    }

    private void edit(List<Edit> edits, Runnable done) {
        rejected.accept("");
        session.edit(edits, why -> rejected.accept(why + " The study keeps its last good state."), done);
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
