package kadrem.files.study;

import java.io.IOException;
import java.nio.file.Path;

/** Whether files that a study names lie in its own folder. */
public final class Inside {
    private Inside() {
    }

    /** With every link followed; of a file that is there. */
    public static boolean is(Path folder, Path file) {
        try {
            return file.toRealPath().startsWith(folder.toRealPath());
        } catch (IOException _) {
            return false;
        }
    }
}
