package kadrem.desk.start;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.Collections;
import java.util.List;
import java.util.Locale;

import javax.imageio.ImageIO;

import javafx.animation.PauseTransition;
import javafx.application.Platform;
import javafx.embed.swing.SwingFXUtils;
import javafx.scene.Scene;
import javafx.stage.Window;
import javafx.util.Duration;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.compare.CompareStation;
import kadrem.desk.export.ExportDialog;
import kadrem.desk.examine.ExamineStation;
import kadrem.core.study.Http;
import kadrem.desk.frame.Frame;
import kadrem.desk.workload.WorkloadStation;

/** Writes a picture of each station of the open study, and one in the dark style, and then ends the program. */
final class Screenshots {
    /** Long enough for the layout passes and the background reading that a station starts when it is shown. */
    private static final Duration SETTLE = Duration.millis(1500);
    private static final int READING_PAUSES = 4;

    private final Frame frame;
    private final Session session;
    private final Scene scene;
    private final Path folder;
    private final ArrayDeque<Runnable> steps = new ArrayDeque<>();

    Screenshots(Frame frame, Session session, Scene scene, Path folder) {
        this.frame = frame;
        this.session = session;
        this.scene = scene;
        this.folder = folder;
    }

    void begin() {
        List<Station> stations = frame.stations();
        for (Station station : stations) {
            steps.add(() -> frame.go(station));
            steps.add(() -> write(station.name().toLowerCase(Locale.ROOT)));
            if (station instanceof CompareStation compare) {
                for (CompareStation.Side side : CompareStation.Side.values()) {
                    if (side != CompareStation.Side.PAIRS) {
                        steps.add(() -> compare.look(side));
                        if (side == CompareStation.Side.DISTRIBUTION) {
                            // it reads the latencies of all runs
                            steps.addAll(Collections.nCopies(READING_PAUSES, () -> {
                            }));
                        }
                        steps.add(() -> write("compare-" + side.name().toLowerCase(Locale.ROOT)));
                    }
                }
                steps.add(() -> compare.look(CompareStation.Side.PAIRS));
                steps.add(frame::why);
                steps.add(() -> write("why"));
            }
            if (station instanceof WorkloadStation workload) {
                // which protocols there are is known when the study has been read
                steps.add(() -> session.state().stream().flatMap(state -> state.study().candidates().stream())
                        .map(one -> one.address().protocol()).distinct()
                        .filter(protocol -> !protocol.equals(Http.ID)).forEach(protocol -> {
                            steps.addFirst(() -> write("workload-" + protocol));
                            steps.addFirst(() -> workload.askIn(protocol));
                        }));
            }
            if (station instanceof ExamineStation examine) {
                for (ExamineStation.Side side : ExamineStation.Side.values()) {
                    if (side != ExamineStation.Side.CALLS) {
                        steps.add(() -> examine.look(side));
                        steps.add(() -> write("examine-" + side.name().toLowerCase(Locale.ROOT)));
                    }
                }
            }
        }
        steps.add(() -> session.state().ifPresent(state -> ExportDialog.open(state.file(), scene.getWindow())));
        steps.add(() -> Window.getWindows().stream().map(Window::getScene).filter(one -> one != scene).findFirst()
                .ifPresent(one -> {
                    write("export", one);
                    one.getWindow().hide();
                }));
        steps.add(() -> frame.go(stations.get(stations.size() - 2)));
        steps.add(() -> frame.look().darkProperty().set(true));
        steps.add(() -> write(stations.get(stations.size() - 2).name().toLowerCase(Locale.ROOT) + "-dark"));
        next();
    }

    private void next() {
        var pause = new PauseTransition(SETTLE);
        pause.setOnFinished(_ -> {
            if (session.state().isEmpty() && session.problemProperty().get().isEmpty()) {
                next();
                return;
            }
            Runnable step = steps.poll();
            if (step == null) {
                Platform.exit();
            } else {
                step.run();
                next();
            }
        });
        pause.play();
    }

    private void write(String name) {
        write(name, scene);
    }

    private void write(String name, Scene scene) {
        try {
            Files.createDirectories(folder);
            ImageIO.write(SwingFXUtils.fromFXImage(scene.snapshot(null), null), "png",
                    folder.resolve(name + ".png").toFile());
        } catch (IOException cause) {
            throw new UncheckedIOException("the picture cannot be written: " + cause.getMessage(), cause);
        }
    }
}
