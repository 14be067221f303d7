package kadrem.desk;

import java.lang.management.ManagementFactory;
import java.util.Arrays;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

import javafx.application.Application;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.scene.control.Button;
import javafx.scene.control.Control;
import javafx.scene.control.Labeled;
import javafx.scene.layout.StackPane;
import javafx.stage.Stage;
import javafx.stage.Window;
import kadrem.desk.start.Desk;

/**
 * Starts a window, prints the milliseconds from the start of the virtual machine until it can be used, and ends: {@code bare} for a window
 * of JavaFX with a button, or the arguments of Kadrem's window. Run by hand; docs/benchmarks.md tells how.
 */
public final class StartTime {
    private static final int GLANCE_MILLIS = 5;

    private StartTime() {
    }

    /** The least that a window of JavaFX can be. */
    public static final class Bare extends Application {
        @Override
        public void start(Stage stage) {
            var button = new Button("usable");
            button.setId("evidence-sentence");
            stage.setScene(new Scene(new StackPane(button), 1280, 800));
            stage.show();
        }
    }

    public static void main(String[] arguments) {
        System.setProperty("java.awt.headless", "true");
        boolean bare = Arrays.equals(arguments, new String[]{"bare"});
        Thread.ofPlatform().daemon().start(StartTime::watch);
        if (bare) {
            Application.launch(Bare.class);
        } else {
            Desk.main(arguments);
        }
    }

    private static void watch() {
        try {
            while (true) {
                TimeUnit.MILLISECONDS.sleep(GLANCE_MILLIS);
                try {
                    Platform.runLater(StartTime::look);
                } catch (IllegalStateException _) {
                    // JavaFX is not there yet
                }
            }
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }

    private static void look() {
        boolean usable = Window.getWindows().stream().filter(Window::isShowing).map(Window::getScene)
                .flatMap(scene -> Stream.of("#given", "#evidence-sentence").map(scene::lookup))
                .anyMatch(node -> node instanceof Control control && control.getWidth() > 0
                        && !(control instanceof Labeled said && said.getText().isBlank()));
        if (usable) {
            System.out.println(System.currentTimeMillis() - ManagementFactory.getRuntimeMXBean().getStartTime());
            System.exit(0);
        }
    }
}
