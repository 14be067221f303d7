package kadrem.work;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

import kadrem.files.run.StudyLock;
import kadrem.load.gate.Consent;
import org.apache.commons.io.FileUtils;

/** Gives a study another folder: one that was made in a hurry gets its name and its place later. */
public final class MoveStudy {
    private MoveStudy() {
    }

    /**
     * Moves the study with its runs. What the user said that it may do goes with it.
     *
     * @param to folder that is to be made, or an empty one
     * @return the folder, absolute
     * @throws IOException if it cannot be moved there, or is being measured; the message says why, and the study is where it was
     */
    public static Path to(Path from, Path to) throws IOException {
        Path before = from.toAbsolutePath().normalize();
        Path after = to.toAbsolutePath().normalize();
        if (after.startsWith(before)) {
            throw new IOException(after + " is within the study itself. Name a folder beside it.");
        }
        if (Files.exists(after) && !isEmptyFolder(after)) {
            throw new IOException(
                    after + " is there and not empty. Name a folder that is to be made, or an empty one.");
        }
        StudyLock.take(before).close();
        Files.deleteIfExists(after);
        FileUtils.moveDirectory(before.toFile(), after.toFile());
        Consent.ofUser().moved(before, after);
        return after;
    }

    private static boolean isEmptyFolder(Path folder) throws IOException {
        if (!Files.isDirectory(folder)) {
            return false;
        }
        try (var entries = Files.list(folder)) {
            return entries.findAny().isEmpty();
        }
    }
}
