package kadrem.desk.workload;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import kadrem.core.study.ValueList;

/** The line in which a value list is described: a new one, or one of the study that is being changed. */
final class ListForm {
    private static final String NUMBERS = "numbers from … to …";
    private static final String ZIPF = "popular numbers (Zipf)";
    private static final String COLUMN = "column of a file";
    private static final String PICK = "one of (with commas)";
    private static final String UUID = "identifiers (UUID)";
    private static final String WORDS = "words of … letters";
    private static final String ISO = "instants, 2026-07-01T00:00:00Z";
    private static final String SECONDS = "instants, seconds since 1970";
    private static final Map<ValueList.Order, String> ORDERS = new LinkedHashMap<>();
    private static final Map<ValueList.Keep, String> KEEPS = new LinkedHashMap<>();

    static {
        ORDERS.put(ValueList.Order.RANDOM, "at random");
        ORDERS.put(ValueList.Order.SEQUENTIAL, "one after the other");
        ORDERS.put(ValueList.Order.PER_USER, "one for each user");
        KEEPS.put(ValueList.Keep.VISIT, "kept for a visit");
        KEEPS.put(ValueList.Keep.CALL, "new for each call");
    }

    private final Label heading = new Label();
    private final TextField name = new TextField();
    private final ComboBox<String> kind = box(NUMBERS, ZIPF, COLUMN, PICK, UUID, WORDS, ISO, SECONDS);
    private final ComboBox<String> order = box(ORDERS.values().toArray(String[]::new));
    private final ComboBox<String> keep = box(KEEPS.values().toArray(String[]::new));
    private final TextField one = new TextField();
    private final TextField other = new TextField();
    private final TextField third = new TextField();
    private final Button save = new Button();
    private final Button cancel = new Button("Leave as it was");
    private final FlowPane view;

    /**
     * @param saving told that what stands in the form is to be saved
     * @param leaving told that the list is to stay as it was
     */
    ListForm(Runnable saving, Runnable leaving) {
        text(name, "list-name", "name of the value list", 110);
        text(one, "list-one", "first field of the value list", 150);
        text(other, "list-other", "second field of the value list", 150);
        text(third, "list-third", "exponent", 60);
        name.setPromptText("name");
        kind.setId("list-kind");
        kind.setAccessibleText("kind of value list");
        kind.setOnAction(_ -> ask());
        order.setId("list-order");
        order.setAccessibleText("order of the values");
        keep.setId("list-keep");
        keep.setAccessibleText("how long a value is kept");
        // what comes in an order is kept for a visit
        keep.disableProperty().bind(order.valueProperty().isNotEqualTo(ORDERS.get(ValueList.Order.RANDOM)));
        save.setId("add-list");
        save.setOnAction(_ -> saving.run());
        cancel.setId("leave-list");
        cancel.setOnAction(_ -> leaving.run());
        cancel.managedProperty().bind(cancel.visibleProperty());
        view = new FlowPane(6, 6, heading, name, kind, one, other, third, order, keep, save, cancel);
        view.setAlignment(Pos.CENTER_LEFT);
        empty();
    }

    private static ComboBox<String> box(String... choices) {
        var box = new ComboBox<>(FXCollections.observableArrayList(choices));
        box.setValue(choices[0]);
        return box;
    }

    private static void text(TextField field, String id, String what, double width) {
        field.setId(id);
        field.setAccessibleText(what);
        field.setPrefWidth(width);
        field.managedProperty().bind(field.visibleProperty());
    }

    Node view() {
        return view;
    }

    /** Makes ready for a new list. */
    void empty() {
        begin("new:", "Add the list", false);
        name.clear();
        fill(NUMBERS, "", "", "");
        order.setValue(ORDERS.get(ValueList.Order.RANDOM));
        keep.setValue(KEEPS.get(ValueList.Keep.VISIT));
    }

    private void begin(String title, String action, boolean changing) {
        heading.setText(title);
        save.setText(action);
        cancel.setVisible(changing);
    }

    /** Makes ready to change {@code list}. */
    void change(ValueList list) {
        begin("change {{" + list.name() + "}}:", "Save the list", true);
        name.setText(list.name());
        order.setValue(ORDERS.get(list.draw().order()));
        keep.setValue(KEEPS.get(list.draw().keep()));
        switch (list) {
            case ValueList.NumberRange range ->
                fill(NUMBERS, Long.toString(range.from()), Long.toString(range.to()), "");
            case ValueList.Zipf zipf -> fill(ZIPF, Long.toString(zipf.from()), Long.toString(zipf.to()),
                    Double.toString(zipf.exponent()));
            case ValueList.Listed listed -> {
                if (listed.file().isEmpty()) {
                    fill(PICK, String.join(", ", listed.rows()), "", "");
                } else {
                    fill(COLUMN, listed.column(), listed.file(), "");
                }
            }
            case ValueList.Uuid _ -> fill(UUID, "", "", "");
            case ValueList.Text text -> fill(WORDS, Integer.toString(text.length()), "", "");
            case ValueList.Timestamp time ->
                fill(time.asSeconds() ? SECONDS : ISO, time.from().toString(), time.to().toString(), "");
        }
    }

    private void fill(String chosen, String first, String second, String exponent) {
        kind.setValue(chosen);
        ask();
        one.setText(first);
        other.setText(second);
        third.setText(exponent);
    }

    private void ask() {
        String chosen = kind.getValue();
        one.setVisible(!chosen.equals(UUID));
        other.setVisible(List.of(NUMBERS, ZIPF, COLUMN, ISO, SECONDS).contains(chosen));
        third.setVisible(chosen.equals(ZIPF));
        third.setPromptText("1.0");
        one.setPromptText(switch (chosen) {
            case COLUMN -> "column";
            case PICK -> "Tern, Petrel, Avocet";
            case WORDS -> "12";
            case ISO, SECONDS -> "2026-07-01T00:00:00Z";
            default -> "1";
        });
        other.setPromptText(switch (chosen) {
            case COLUMN -> "values/days.csv";
            case ISO, SECONDS -> "2026-07-31T00:00:00Z";
            default -> "2400";
        });
    }

    /** The list as a study file holds it. */
    Map<String, Object> list() {
        Map<String, Object> list = new LinkedHashMap<>();
        list.put("name", name.getText().strip());
        String first = one.getText().strip();
        String second = other.getText().strip();
        String chosen = kind.getValue();
        switch (chosen) {
            case ZIPF -> {
                list.put("kind", "zipf");
                range(list, first, second);
                if (!third.getText().isBlank()) {
                    list.put("exponent", third.getText().strip());
                }
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
            case WORDS -> {
                list.put("kind", "text");
                list.put("length", first.isEmpty() ? "12" : first);
            }
            case ISO, SECONDS -> {
                list.put("kind", "timestamp");
                range(list, first, second);
                list.put("as", chosen.equals(ISO) ? "iso" : "seconds");
            }
            default -> range(list, first, second);
        }
        ORDERS.forEach((each, words) -> {
            if (words.equals(order.getValue()) && each != ValueList.Order.RANDOM) {
                list.put("order", each.id());
            }
        });
        KEEPS.forEach((each, words) -> {
            if (!keep.isDisabled() && words.equals(keep.getValue()) && each != ValueList.Keep.VISIT) {
                list.put("keep", each.id());
            }
        });
        return list;
    }

    private static void range(Map<String, Object> list, String from, String to) {
        list.put("from", from);
        list.put("to", to);
    }
}
