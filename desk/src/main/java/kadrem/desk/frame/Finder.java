package kadrem.desk.frame;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.layout.StackPane;
import kadrem.desk.Destination;
import kadrem.desk.Session;
import kadrem.desk.Station;

/** Opens and shuts the line by which stations, calls, candidates and sides are found, over everything else. Interface thread only. */
final class Finder {
    private final StackPane over;
    private final List<Station> stations;
    private final Consumer<Station> go;
    private final FindPane pane = new FindPane(this::shut);
    private Optional<Node> focusedBefore = Optional.empty();

    /**
     * @param over what the line is laid over
     * @param go shows a station
     */
    Finder(StackPane over, List<Station> stations, Consumer<Station> go) {
        this.over = over;
        this.stations = List.copyOf(stations);
        this.go = go;
    }

    void open(Session.State state) {
        if (over.getChildren().contains(pane.view())) {
            return;
        }
        focusedBefore = Optional.ofNullable(over.getScene().getFocusOwner());
        over.getChildren().add(pane.view());
        StackPane.setAlignment(pane.view(), Pos.TOP_CENTER);
        pane.begin(destinations(state));
    }

    /** Stations first, then what each of them has. */
    private List<Destination> destinations(Session.State state) {
        var all = new ArrayList<Destination>();
        for (Station station : stations) {
            String summary = Frame.isIdle(station, state) ? Spine.ELSEWHERE : station.summary(state);
            all.add(new Destination(station.name(), summary, () -> go.accept(station)));
        }
        for (Station station : stations) {
            if (!Frame.isIdle(station, state)) {
                station.destinations(state).forEach(one -> all.add(new Destination(one.name(), one.what(), () -> {
                    go.accept(station);
                    one.open().run();
                })));
            }
        }
        return all;
    }

    private void shut() {
        over.getChildren().remove(pane.view());
        focusedBefore.ifPresent(Node::requestFocus);
    }
}
