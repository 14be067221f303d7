package kadrem.desk.start;

import javafx.application.Application;
import kadrem.core.check.StudyGrammar;
import kadrem.core.study.Protocols;
import kadrem.figures.FigureTheme;
import kadrem.load.drive.UserDrivers;

/** Starts the window. Apart from the application class, so that JavaFX may come from the class path. */
public final class Desk {
    private Desk() {
    }

    /** Has made, while JavaFX starts, what the window needs from its first moment on. Returns at once. */
    static void prepare() {
        Thread.startVirtualThread(() -> {
            // the first look at the protocols is the one that counts
            UserDrivers.join();
            StudyGrammar.measured(Protocols.all());
        });
        Thread.startVirtualThread(() -> new FigureTheme(false).font(1));
    }

    public static void main(String[] arguments) {
        // figures use AWT's geometry and fonts, never its windows
        System.setProperty("java.awt.headless", "true");
        prepare();
        Application.launch(DeskApplication.class, arguments);
    }
}
