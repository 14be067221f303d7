package kadrem.load.drive.command;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Path;
import java.util.List;

/**
 * A program that was started. Its streams are to be closed by who started it. Reading, writing and waiting keep a thread of the system:
 * a virtual one would keep its carrier from others.
 */
interface Program {
    /**
     * How it ended, and what it and what it waited for have used.
     *
     * @param code exit code; 128 and the signal's number where a signal ended it
     * @param processorNanos time on processors, in user and kernel mode; -1 where the system does not tell
     * @param peakBytes the largest resident memory of one process; -1 where it is not known
     */
    record Ended(int code, long processorNanos, long peakBytes) {
    }

    /** @throws IOException if it cannot be started; the message says why */
    static Program start(List<String> words, Path folder) throws IOException {
        return PosixProgram.isPossible() ? PosixProgram.start(words, folder) : new JavaProgram(words, folder);
    }

    OutputStream input();

    InputStream output();

    InputStream errors();

    /** Waits for its end; is called once. */
    Ended await() throws InterruptedException;

    /** Ends it and what it started. */
    void end();

    /** Where the system does not tell what a program has used. */
    final class JavaProgram implements Program {
        private final Process process;

        JavaProgram(List<String> words, Path folder) throws IOException {
            process = new ProcessBuilder(words).directory(folder.toFile()).start();
        }

        @Override
        public OutputStream input() {
            return process.getOutputStream();
        }

        @Override
        public InputStream output() {
            return process.getInputStream();
        }

        @Override
        public InputStream errors() {
            return process.getErrorStream();
        }

        @Override
        public Ended await() throws InterruptedException {
            return new Ended(process.waitFor(), -1, -1);
        }

        @Override
        public void end() {
            process.descendants().forEach(ProcessHandle::destroyForcibly);
            process.destroyForcibly();
        }
    }
}
