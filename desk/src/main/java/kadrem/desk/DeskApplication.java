package kadrem.desk;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

import javafx.application.Application;
import javafx.scene.Scene;
import javafx.stage.Stage;
import kadrem.figures.FigureTheme;
import kadrem.desk.chart.WarmUp;
import kadrem.desk.frame.Frame;
import kadrem.desk.look.Look;

/** The window: {@code [--study FOLDER] [--screenshots FOLDER]}. */
public final class DeskApplication extends Application {
    private final Session session = new Session();
    private Optional<Frame> frame = Optional.empty();

    @Override
    public void start(Stage stage) {
        var look = new Look();
        var made = new Frame(session, look, stage);
        frame = Optional.of(made);
        var scene = new Scene(made.view(), 1280, 800);
        look.dress(scene);
        made.installShortcuts(scene);
        stage.setTitle("Kadrem");
        stage.setMinWidth(1024);
        stage.setMinHeight(700);
        stage.setScene(scene);
        stage.sizeToScene();
        stage.show();
        WarmUp.begin(look.figures());
        option("--study").map(Path::of).ifPresent(session::open);
        option("--screenshots").map(Path::of)
                .ifPresent(folder -> new Screenshots(made, session, scene, folder).begin());
    }

    private Optional<String> option(String name) {
        List<String> raw = getParameters().getRaw();
        int at = raw.indexOf(name);
        return at >= 0 && at + 1 < raw.size() ? Optional.of(raw.get(at + 1)) : Optional.empty();
    }

    @Override
    public void stop() {
        frame.ifPresent(Frame::close);
        session.close();
    }
}
