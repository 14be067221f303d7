package kadrem.load.host;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;

import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Lets threads that record and watch give way to the lanes, so that they add nothing to the schedule lag. */
public final class BackgroundThread {
    private static final Logger LOG = LoggerFactory.getLogger(BackgroundThread.class);
    private static final Path SELF = Path.of("/proc/thread-self");
    private static final String NICENESS = "10";

    private BackgroundThread() {
    }

    /**
     * Lowers the scheduling priority of the calling thread where the system allows it (Linux, with renice). Java's own
     * thread priorities have no effect there without special rights.
     */
    public static void yieldToLoad() {
        if (!Files.exists(SELF)) {
            return;
        }
        try {
            String thread = SELF.toRealPath().getFileName().toString();
            Process renice = new ProcessBuilder("renice", "-n", NICENESS, "-p", thread)
                    .redirectOutput(ProcessBuilder.Redirect.DISCARD).redirectError(ProcessBuilder.Redirect.DISCARD)
                    .start();
            renice.waitFor(2, TimeUnit.SECONDS);
        } catch (IOException cause) {
            LOG.debug("the thread keeps its priority", cause);
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }
}
