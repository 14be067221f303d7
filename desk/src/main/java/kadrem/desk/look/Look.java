package kadrem.desk.look;

import java.awt.FontFormatException;
import java.awt.GraphicsEnvironment;
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

/** Bundled fonts and the light and dark style of a window. Interface thread only. */
public final class Look {
    public static final String TEXT_FONT = "Source Sans 3";
    private static final String[] FONTS = {"SourceSans3-Regular", "SourceSans3-Semibold", "SourceSans3-Bold",
            "SourceSans3-It", "SourceCodePro-Regular", "SourceCodePro-Semibold"};

    private final BooleanProperty dark = new SimpleBooleanProperty(false);

    public Look() {
        for (String name : FONTS) {
            try (InputStream in = Look.class.getResourceAsStream("/kadrem/desk/fonts/" + name + ".ttf")) {
                if (in == null || Font.loadFont(in, 12) == null) {
                    throw new IllegalStateException("the font " + name + " is not in the program");
                }
            } catch (IOException impossible) {
                throw new UncheckedIOException(impossible);
            }
            registerForFigures(name);
        }
    }

    /** Figures measure their texts with AWT, which has a list of fonts of its own. */
    private static void registerForFigures(String name) {
        try (InputStream in = Look.class.getResourceAsStream("/kadrem/desk/fonts/" + name + ".ttf")) {
            GraphicsEnvironment.getLocalGraphicsEnvironment()
                    .registerFont(java.awt.Font.createFont(java.awt.Font.TRUETYPE_FONT, in));
        } catch (IOException | FontFormatException impossible) {
            throw new IllegalStateException("the font " + name + " cannot be read", impossible);
        }
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
