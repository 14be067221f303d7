package kadrem.figures;

import java.awt.Font;
import java.awt.FontFormatException;
import java.awt.GraphicsEnvironment;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;

/** The fonts that come with Kadrem. Figures measure their texts with AWT, to which the fonts are made known here. */
public final class FigureFonts {
    /** The family of texts. */
    public static final String TEXT = "Source Sans 3";
    private static final List<String> NAMES = List.of("SourceSans3-Regular", "SourceSans3-Semibold", "SourceSans3-Bold",
            "SourceSans3-It", "SourceCodePro-Regular", "SourceCodePro-Semibold");

    private FigureFonts() {
    }

    /** Done once, by whoever comes first; others wait for it. */
    private static final class Registered {
        static {
            for (String name : NAMES) {
                try (InputStream in = open(name)) {
                    GraphicsEnvironment.getLocalGraphicsEnvironment()
                            .registerFont(Font.createFont(Font.TRUETYPE_FONT, in));
                } catch (IOException | FontFormatException impossible) {
                    throw new IllegalStateException("the font " + name + " cannot be read", impossible);
                }
            }
        }

        private Registered() {
        }

        static Font of(String family, int style, int size) {
            return new Font(family, style, size);
        }
    }

    /** The font of texts, made known to AWT. Any thread. */
    static Font text(int size) {
        return Registered.of(TEXT, Font.PLAIN, size);
    }

    /** The names of the font files. */
    public static List<String> names() {
        return NAMES;
    }

    /** The TrueType file of a font; to be closed by the caller. */
    public static InputStream open(String name) {
        InputStream in = FigureFonts.class.getResourceAsStream("/kadrem/figures/fonts/" + name + ".ttf");
        if (in == null) {
            throw new IllegalStateException("the font " + name + " is not in the program");
        }
        return in;
    }
}
