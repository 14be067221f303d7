package kadrem.files.run;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;

/**
 * A study is measured by one Kadrem at a time: two would load each other's candidates and write runs of the same round. The system gives
 * the lock back where Kadrem is killed.
 */
public final class StudyLock implements AutoCloseable {
    private static final String NAME = ".measured-now";

    private final Path file;
    private final FileChannel channel;
    private final FileLock lock;

    private StudyLock(Path file, FileChannel channel, FileLock lock) {
        this.file = file;
        this.channel = channel;
        this.lock = lock;
    }

    /**
     * Takes the lock.
     *
     * @throws IOException if another has it, or the study's folder cannot be written; the message says which
     */
    public static StudyLock take(Path studyFolder) throws IOException {
        Path file = studyFolder.resolve(NAME);
        FileChannel channel = FileChannel.open(file, StandardOpenOption.CREATE, StandardOpenOption.WRITE);
        try {
            FileLock lock = channel.tryLock();
            if (lock != null) {
                channel.truncate(0);
                channel.write(ByteBuffer.wrap(Long.toString(ProcessHandle.current().pid())
                        .getBytes(StandardCharsets.UTF_8)));
                return new StudyLock(file, channel, lock);
            }
        } catch (OverlappingFileLockException _) {
            // it is this process that has it
        } catch (IOException cause) {
            channel.close();
            throw cause;
        }
        channel.close();
        throw new IOException("This study is being measured by another Kadrem" + who(studyFolder)
                + ". Wait for it, or stop it.");
    }

    /** Whether nobody measures the study; also where that cannot be told, as in a folder that cannot be written. */
    public static boolean isFree(Path studyFolder) {
        if (!Files.exists(studyFolder.resolve(NAME))) {
            return true;
        }
        try {
            take(studyFolder).close();
            return true;
        } catch (IOException _) {
            return !Files.isWritable(studyFolder.resolve(NAME));
        }
    }

    private static String who(Path studyFolder) {
        try {
            String process = Files.readString(studyFolder.resolve(NAME)).strip();
            return process.matches("\\d{1,10}") ? " (process " + process + ")" : "";
        } catch (IOException _) {
            return "";
        }
    }

    @Override
    public void close() {
        try (channel) {
            Files.deleteIfExists(file);
            lock.release();
        } catch (IOException _) {
            // the system gives it back with the process
        }
    }
}
