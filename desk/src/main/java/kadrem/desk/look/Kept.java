package kadrem.desk.look;

import java.io.IOException;
import java.io.StringReader;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Properties;

import kadrem.files.AtomicFile;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** How the user likes the window, kept for the next time: its size of text and whether it is dark. Interface thread only. */
public final class Kept {
    private static final Logger LOG = LoggerFactory.getLogger(Kept.class);
    private static final String ZOOM = "zoom";
    private static final String DARK = "dark";

    private final Path file;
    private final Properties known = new Properties();

    private Kept(Path file) {
        this.file = file;
    }

    /**
     * Takes on what was kept, and keeps what is changed.
     *
     * @param file where it is kept; what cannot be read there is as if it were not there
     */
    public static void in(Path file, Look look, Zoom zoom) {
        var kept = new Kept(file);
        try (var reader = new StringReader(Files.exists(file) ? Files.readString(file) : "")) {
            kept.known.load(reader);
            zoom.set(Double.parseDouble(kept.known.getProperty(ZOOM, "1")));
        } catch (IOException | IllegalArgumentException cause) {
            LOG.warn("how the window was is not read from {}", file, cause);
        }
        look.darkProperty().set(Boolean.parseBoolean(kept.known.getProperty(DARK)));
        look.darkProperty().addListener((_, _, dark) -> kept.keep(DARK, dark.toString()));
        zoom.factorProperty().addListener((_, _, factor) -> kept.keep(ZOOM, factor.toString()));
    }

    private void keep(String name, String value) {
        synchronized (known) {
            known.setProperty(name, value);
        }
        Background.AT_ONCE.run(this::write);
    }

    /** What is known by now: whoever writes last writes all of it. Any thread. */
    private void write() throws IOException {
        synchronized (known) {
            var text = new StringWriter();
            known.store(text, "how the window of Kadrem was left");
            Files.createDirectories(file.toAbsolutePath().getParent());
            AtomicFile.write(file, text.toString().getBytes(StandardCharsets.UTF_8));
        }
    }
}
