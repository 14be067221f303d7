package kadrem.files;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.AtomicMoveNotSupportedException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;

/** Replaces a file as a whole: whoever reads it sees the old one or the new one, never a part. */
public final class AtomicFile {
    private AtomicFile() {
    }

    public static void write(Path file, byte[] content) throws IOException {
        Path temporary = file.resolveSibling("." + file.getFileName() + "." + ProcessHandle.current().pid() + ".tmp");
        try {
            Files.write(temporary, content);
            try (FileChannel channel = FileChannel.open(temporary, StandardOpenOption.WRITE)) {
                channel.force(true);
            }
            move(temporary, file);
        } finally {
            Files.deleteIfExists(temporary);
        }
    }

    /** Puts a file in the place of another. */
    public static void move(Path from, Path to) throws IOException {
        try {
            Files.move(from, to, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        } catch (AtomicMoveNotSupportedException _) {
            Files.move(from, to, StandardCopyOption.REPLACE_EXISTING);
        }
    }
}
