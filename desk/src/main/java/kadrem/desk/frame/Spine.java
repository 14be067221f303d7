package kadrem.desk.frame;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.scene.text.Text;
import kadrem.desk.Session;
import kadrem.desk.Station;

/** The stations in working order, each with its mark and one line of live summary. */
final class Spine {
    /** Of a station that has nothing to do in a study without a load. */
    static final String ELSEWHERE = "measured elsewhere";
    private static final double SUMMARY_WIDTH = 140;
    /** Height with room for all stations as they are set. */
    private static final double ROOMY = 720;
    private static final String LOW = "low";
    private final VBox box = new VBox();
    private final Label study = new Label();
    private final ToggleGroup group = new ToggleGroup();
    private final Map<Station, Entry> entries = new HashMap<>();

    private record Entry(ToggleButton button, HBox mark, Text summary) {
    }

    Spine(List<Station> stations, Consumer<Station> chosen, Node foot) {
        var title = new Label("Kadrem");
        title.getStyleClass().add("wordmark");
        study.getStyleClass().add("spine-study");
        study.setWrapText(true);
        box.getStyleClass().add("spine");
        var list = new VBox();
        list.getStyleClass().add("spine-stations");
        for (Station station : stations) {
            list.getChildren().add(entry(station, chosen));
        }
        // in a low or much enlarged window the stations scroll, and the foot stays
        var scroll = new ScrollPane(list);
        scroll.getStyleClass().add("plain-scroll");
        scroll.setFitToWidth(true);
        scroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.setMinHeight(0);
        VBox.setVgrow(scroll, Priority.ALWAYS);
        box.getChildren().addAll(title, study, scroll, foot);
        box.setMinHeight(0);
        box.heightProperty().addListener((_, _, height) -> {
            boolean low = height.doubleValue() < ROOMY;
            if (low != box.getStyleClass().contains(LOW)) {
                box.getStyleClass().remove(LOW);
                box.getStyleClass().addAll(low ? List.of(LOW) : List.of());
            }
        });
    }

    private Node entry(Station station, Consumer<Station> chosen) {
        var name = new Label(station.name());
        name.getStyleClass().add("spine-name");
        // a text with a wrapping width, since a wrapped label in a button does not know its height
        var summary = new Text();
        summary.setWrappingWidth(SUMMARY_WIDTH);
        summary.getStyleClass().add("spine-summary");
        var mark = new HBox();
        mark.getStyleClass().add("spine-mark");
        var row = new HBox(mark, new VBox(name, summary));
        row.getStyleClass().add("spine-row");
        var button = new ToggleButton("", row);
        button.setToggleGroup(group);
        button.setMaxWidth(Double.MAX_VALUE);
        button.getStyleClass().add("spine-entry");
        button.setAccessibleText(station.name());
        button.setId("spine-" + station.name().toLowerCase(java.util.Locale.ROOT));
        button.setOnAction(_ -> {
            button.setSelected(true);
            chosen.accept(station);
        });
        entries.put(station, new Entry(button, mark, summary));
        return button;
    }

    Node view() {
        return box;
    }

    void select(Station station) {
        Entry entry = entries.get(station);
        if (entry != null) {
            entry.button().setSelected(true);
        }
    }

    void show(Session.State state) {
        study.setText(state.study().name());
        entries.forEach((station, entry) -> {
            boolean idle = Frame.isIdle(station, state);
            Station.Progress progress = idle ? Station.Progress.EMPTY : station.progress(state);
            String summary = idle ? ELSEWHERE : station.summary(state);
            entry.mark().getChildren().setAll(StateMark.of(progress));
            entry.summary().setText(summary);
            entry.button().setAccessibleText(station.name() + ", " + progress.words() + ": " + summary);
        });
    }
}
