package kadrem.desk.look;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;

import atlantafx.base.theme.PrimerDark;
import atlantafx.base.theme.PrimerLight;
import javafx.application.Application;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.scene.Scene;
import javafx.scene.text.Font;
import kadrem.figures.FigureFonts;
import kadrem.figures.FigureTheme;

/** Bundled fonts and the light and dark style of a window. Interface thread only. */
public final class Look {
    private final BooleanProperty dark = new SimpleBooleanProperty(false);

    public Look() {
        for (String name : FigureFonts.names()) {
            try (InputStream in = FigureFonts.open(name)) {
                if (Font.loadFont(in, 12) == null) {
                    throw new IllegalStateException("the font " + name + " cannot be read");
                }
            } catch (IOException impossible) {
                throw new UncheckedIOException(impossible);
            }
        }
    }

    /** How figures look now. */
    public FigureTheme figures() {
        return new FigureTheme(isDark());
    }

    public BooleanProperty darkProperty() {
        return dark;
    }

    public boolean isDark() {
        return dark.get();
    }

    /** Dresses the scene and keeps it in step with {@link #darkProperty()}. */
    public void dress(Scene scene) {
        apply(scene);
        dark.addListener((_, _, _) -> apply(scene));
    }

    private void apply(Scene scene) {
        Application.setUserAgentStylesheet(
                dark.get() ? new PrimerDark().getUserAgentStylesheet() : new PrimerLight().getUserAgentStylesheet());
        scene.getStylesheets().setAll(sheet("kadrem.css"), sheet(dark.get() ? "dark.css" : "light.css"));
    }

    private static String sheet(String name) {
        return String.valueOf(Look.class.getResource("/kadrem/desk/style/" + name));
    }
}
