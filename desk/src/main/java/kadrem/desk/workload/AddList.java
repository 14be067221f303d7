package kadrem.desk.workload;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import kadrem.desk.Session;
import kadrem.files.study.Edit;

/** A line in which a value list is described and added. */
final class AddList {
    private static final String NUMBERS = "numbers from … to …";
    private static final String ZIPF = "popular numbers (Zipf) from … to …";
    private static final String COLUMN = "column … of the file …";
    private static final String PICK = "one of (with commas)";
    private static final String UUID = "identifiers (UUID)";
    private static final String WORDS = "words of … letters";

    private final Session session;
    private final Consumer<String> rejected;
    private final TextField name = new TextField();
    private final ComboBox<String> kind = new ComboBox<>(
            FXCollections.observableArrayList(NUMBERS, ZIPF, COLUMN, PICK, UUID, WORDS));
    private final TextField one = new TextField();
    private final TextField other = new TextField();
    private final HBox view;

    AddList(Session session, Consumer<String> rejected) {
        this.session = session;
        this.rejected = rejected;
        name.setPromptText("name");
        name.setPrefWidth(110);
        name.setId("list-name");
        kind.setValue(NUMBERS);
        kind.setId("list-kind");
        kind.setAccessibleText("kind of value list");
        kind.setOnAction(_ -> ask());
        one.setId("list-one");
        other.setId("list-other");
        one.setPrefWidth(150);
        other.setPrefWidth(150);
        var add = new Button("Add the list");
        add.setId("add-list");
        add.setOnAction(_ -> add());
        view = new HBox(6, new Label("new:"), name, kind, one, other, add);
        view.setAlignment(Pos.CENTER_LEFT);
        ask();
    }

    Node view() {
        return view;
    }

    private void ask() {
        String chosen = kind.getValue();
        one.setVisible(!chosen.equals(UUID));
        other.setVisible(List.of(NUMBERS, ZIPF, COLUMN).contains(chosen));
        one.setPromptText(switch (chosen) {
            case COLUMN -> "column";
            case PICK -> "Tern, Petrel, Avocet";
            case WORDS -> "12";
            default -> "1";
        });
        other.setPromptText(chosen.equals(COLUMN) ? "values/days.csv" : "2400");
    }

    private void add() {
        Map<String, Object> list = new LinkedHashMap<>();
        list.put("name", name.getText().strip());
        String first = one.getText().strip();
        String second = other.getText().strip();
        switch (kind.getValue()) {
            case NUMBERS -> {
                list.put("from", first);
                list.put("to", second);
            }
            case ZIPF -> {
                list.put("kind", "zipf");
                list.put("from", first);
                list.put("to", second);
            }
            case COLUMN -> {
                list.put("file", second);
                list.put("column", first);
            }
            case PICK -> {
                list.put("kind", "pick");
                list.put("of", List.of(first.split("\\s*,\\s*")));
            }
            case UUID -> list.put("kind", "uuid");
            default -> {
                list.put("kind", "text");
                list.put("length", first.isEmpty() ? "12" : first);
            }
        }
        rejected.accept("");
        session.state().ifPresent(state -> session.edit(
                List.of(new Edit.Insert("workload.values", state.study().workload().values().size(), list)),
                why -> rejected.accept(why + " The study keeps its last good state.")));
    }
}
