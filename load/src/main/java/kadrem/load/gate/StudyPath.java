package kadrem.load.gate;

import java.io.IOException;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;

/** Whether what a study names lies in its own folder, links followed. */
public final class StudyPath {
    private StudyPath() {
    }

    /** Also where it cannot be told. */
    public static boolean isOutside(Path studyFolder, String named) {
        try {
            Path folder = studyFolder.toAbsolutePath().normalize();
            Path file = folder.resolve(named).normalize();
            if (named.startsWith("~") || !file.startsWith(folder)) {
                return true;
            }
            return file.toFile().exists() && !file.toRealPath().startsWith(folder.toRealPath());
        } catch (IOException | InvalidPathException _) {
            return true;
        }
    }
}
