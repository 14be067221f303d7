package kadrem.files.run;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.Objects;

/** Reads files of a run that may have been written by anybody: whatever breaks on what they hold is told of the file. */
final class Damaged {
    private Damaged() {
    }

    /** Takes a file apart. */
    @FunctionalInterface
    interface Reading<T> {
        T read() throws IOException;
    }

    /** @throws IOException that names the place, whatever broke */
    static <T> T orRead(Path place, Reading<T> reading) throws IOException {
        try {
            return reading.read();
        } catch (UncheckedIOException cause) {
            throw new IOException(
                    place + " cannot be read: " + words(Objects.requireNonNullElse(cause.getCause(), cause)), cause);
        } catch (RuntimeException cause) {
            throw new IOException(place + " is damaged: " + words(cause), cause);
        }
    }

    private static String words(Throwable cause) {
        return cause.getMessage() == null ? cause.getClass().getSimpleName() : cause.getMessage();
    }
}
