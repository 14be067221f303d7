package kadrem.desk.start;

import javafx.application.Application;

/** Starts the window. Apart from the application class, so that JavaFX may come from the class path. */
public final class Desk {
    private Desk() {
    }

    public static void main(String[] arguments) {
        // figures use AWT's geometry and fonts, never its windows
        System.setProperty("java.awt.headless", "true");
        Application.launch(DeskApplication.class, arguments);
    }
}
