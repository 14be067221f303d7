package kadrem.desk.workload;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import kadrem.core.study.Call;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;

/** Visits as strands whose thickness is their share, their calls as beads on them. */
final class Strands {
    private static final double THICKEST = 26;
    private static final double THINNEST = 3;
    private static final double NAME_WIDTH = 190;

    private final VBox view = new VBox(4);
    private final Consumer<Place> chosen;
    private Map<String, String> wrong = Map.of();

    /**
     * A call or a visit of the workload.
     *
     * @param visit number of the visit; -1 for the first part
     * @param call number of the call in it; -1 for the visit itself
     */
    record Place(int visit, int call) {
        /** The place in the study file of the list of calls. */
        String calls() {
            return visit < 0 ? "workload.first" : "workload.visits[" + visit + "].calls";
        }

        String path() {
            return call < 0 ? "workload.visits[" + visit + "]" : calls() + "[" + call + "]";
        }

        Optional<Call> find(Workload workload) {
            List<Call> calls = visit < 0
                    ? workload.first()
                    : visit < workload.visits().size() ? workload.visits().get(visit).calls() : List.of();
            return call >= 0 && call < calls.size() ? Optional.of(calls.get(call)) : Optional.empty();
        }
    }

    Strands(Consumer<Place> chosen) {
        this.chosen = chosen;
    }

    Node view() {
        return view;
    }

    /** @param wrong why a call was not good when it was rehearsed, by its name */
    void show(Workload workload, Place selected, Map<String, String> wrong) {
        view.getChildren().clear();
        this.wrong = wrong;
        if (!workload.first().isEmpty()) {
            view.getChildren().add(strand("first part", "once a user", THINNEST, -1, workload.first(), selected));
        }
        double shares = workload.visits().stream().mapToDouble(Visit::share).sum();
        for (int i = 0; i < workload.visits().size(); i++) {
            Visit visit = workload.visits().get(i);
            double share = workload.choice() == Workload.Choice.IN_TURN
                    ? 1.0 / workload.visits().size()
                    : visit.share() / shares;
            String repeat = visit.repeat() > 1 ? ", " + visit.repeat() + " times over" : "";
            view.getChildren().add(strand(visit.name(), String.format(Locale.ROOT, "%.3g %%%s", share * 100, repeat),
                    Math.max(THINNEST, THICKEST * share), i, visit.calls(), selected));
        }
    }

    private Node strand(String name, String share, double thickness, int number, List<Call> calls, Place selected) {
        var title = new Button(name);
        title.setMnemonicParsing(false);
        title.getStyleClass().add("strand-name");
        title.setId("visit-" + number);
        title.setMaxWidth(Double.MAX_VALUE);
        title.setDisable(number < 0);
        title.setOnAction(_ -> chosen.accept(new Place(number, -1)));
        if (selected.equals(new Place(number, -1))) {
            title.getStyleClass().add("strand-selected");
        }
        var words = new Label(share);
        words.getStyleClass().add("muted");
        var left = new VBox(title, words);
        left.setMinWidth(NAME_WIDTH);
        left.setPrefWidth(NAME_WIDTH);
        var thread = new Region();
        thread.getStyleClass().add("strand");
        thread.setMinHeight(thickness);
        thread.setMaxHeight(thickness);
        thread.setPrefHeight(thickness);
        var beads = new HBox(14);
        beads.setAlignment(Pos.CENTER_LEFT);
        beads.getStyleClass().add("beads");
        for (int i = 0; i < calls.size(); i++) {
            beads.getChildren().add(bead(new Place(number, i), calls.get(i), selected));
        }
        var stack = new StackPane(thread, beads);
        HBox.setHgrow(stack, Priority.ALWAYS);
        var row = new HBox(10, left, stack);
        row.setAlignment(Pos.CENTER_LEFT);
        return row;
    }

    private Node bead(Place place, Call call, Place selected) {
        var bead = new Button(call.word() + "  " + call.name());
        bead.setMnemonicParsing(false);
        bead.getStyleClass().add("bead");
        bead.setId("bead-" + call.name());
        String why = wrong.getOrDefault(call.name(), "");
        bead.setTooltip(new Tooltip(why.isEmpty() ? call.words() : why));
        bead.setAccessibleText("call " + call.name() + (why.isEmpty() ? "" : ", not good: " + why));
        if (!why.isEmpty()) {
            bead.getStyleClass().add("bead-wrong");
        }
        if (place.equals(selected)) {
            bead.getStyleClass().add("bead-selected");
        }
        bead.setOnAction(_ -> chosen.accept(place));
        return bead;
    }
}
