package kadrem.desk.start;

import java.util.ArrayDeque;

import javafx.animation.PauseTransition;
import javafx.application.Platform;
import javafx.util.Duration;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.frame.Frame;

/** Looks at each station of the open study for a moment and ends the program, so that what a start needs can be kept (JEP 514). */
final class Practice {
    private static final Duration MOMENT = Duration.millis(400);
    /** Of a study that never comes nothing is waited for longer. */
    private static final int MAX_MOMENTS = 150;

    private final Frame frame;
    private final Session session;
    private final ArrayDeque<Station> stations;
    private int moments;

    Practice(Frame frame, Session session) {
        this.frame = frame;
        this.session = session;
        stations = new ArrayDeque<>(frame.stations());
    }

    void begin() {
        var pause = new PauseTransition(MOMENT);
        pause.setOnFinished(_ -> {
            if (session.state().isPresent() && !stations.isEmpty()) {
                frame.go(stations.remove());
            }
            if (stations.isEmpty() || ++moments > MAX_MOMENTS || session.problemProperty().get().isPresent()) {
                Platform.exit();
            } else {
                begin();
            }
        });
        pause.play();
    }
}
