package kadrem.desk.start;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

import javafx.application.Application;
import javafx.scene.Scene;
import javafx.stage.Stage;
import kadrem.core.study.Protocols;
import kadrem.desk.Session;
import kadrem.desk.chart.WarmUp;
import kadrem.desk.frame.Frame;
import kadrem.desk.look.Look;
import kadrem.load.drive.UserDrivers;
import org.slf4j.LoggerFactory;

/** The window: {@code [--study FOLDER] [--screenshots FOLDER | --practise]}. */
public final class DeskApplication extends Application {
    private final Session session;
    private Optional<Frame> frame = Optional.empty();

    public DeskApplication() {
        // before the session, which has the protocols of all drivers
        UserDrivers.join();
        session = new Session();
    }

    @Override
    public void start(Stage stage) {
        // read while the window is made
        option("--study").map(Path::of).ifPresent(session::open);
        var look = new Look();
        var made = new Frame(session, look, stage);
        frame = Optional.of(made);
        var scene = new Scene(made.view(), 1280, 800);
        look.dress(scene);
        made.installShortcuts(scene);
        boolean practises = getParameters().getRaw().contains("--practise");
        if (option("--screenshots").isEmpty() && !practises) {
            made.keep();
        }
        stage.setTitle("Kadrem");
        stage.setMinWidth(1024);
        stage.setMinHeight(700);
        stage.setScene(scene);
        stage.sizeToScene();
        stage.show();
        WarmUp.begin(look.figures());
        Protocols.broken().forEach(LoggerFactory.getLogger(DeskApplication.class)::warn);
        option("--screenshots").map(Path::of)
                .ifPresent(folder -> new Screenshots(made, session, scene, folder).begin());
        if (practises) {
            new Practice(made, session).begin();
        }
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
