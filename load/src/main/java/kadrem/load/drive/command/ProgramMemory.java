package kadrem.load.drive.command;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Largest resident memory of a program that runs, read while it runs. What {@code wait4} tells when it has ended is no less than
 * Kadrem's own: a program started by {@code posix_spawn} borrows the memory of the process that starts it until it is executed, and
 * Linux counts that as the program's (seen on Linux 6; manual page proc_pid_status(5) for VmHWM, which begins anew with the program).
 */
final class ProgramMemory {
    private static final long FIRST_MILLIS = 1;
    private static final long MAX_MILLIS = 100;
    /** Linux adds up the pages of a process with some delay. */
    private static final double CERTAINLY_MORE = 1.05;
    private static final int DEEPEST = 8;
    private static final Pattern PEAK = Pattern.compile("^VmHWM:\\s*(\\d+) kB", Pattern.MULTILINE);
    private static final ScheduledExecutorService READER = Executors.newSingleThreadScheduledExecutor(
            Thread.ofPlatform().daemon().name("kadrem-program-memory").factory());

    private static volatile long own;

    private final int pid;
    private volatile long read;
    private volatile boolean over;

    private ProgramMemory(int pid) {
        this.pid = pid;
    }

    /** Reads at 1, 3, 7, 15 ms and so on after now, at last each 100 ms. */
    static ProgramMemory watch(int pid) {
        var memory = new ProgramMemory(pid);
        memory.readAfter(FIRST_MILLIS);
        return memory;
    }

    private void readAfter(long millis) {
        READER.schedule(() -> {
            if (!over) {
                read = Math.max(read, peak(pid, DEEPEST));
                readAfter(Math.min(MAX_MILLIS, 2 * millis));
            }
        }, millis, TimeUnit.MILLISECONDS);
    }

    /** The program has ended. */
    void end() {
        over = true;
    }

    /**
     * @param told what the system told at the program's end, in bytes
     * @return bytes; what the system told where it is more than Kadrem ever had, what was read last otherwise; -1 if nothing was
     */
    long known(long told) {
        if (told > CERTAINLY_MORE * own) {
            own = peak(Math.toIntExact(ProcessHandle.current().pid()), 0);
        }
        return known(read, told, own);
    }

    static long known(long read, long told, long own) {
        if (own > 0 && told > CERTAINLY_MORE * own) {
            return told;
        }
        return read > 0 ? read : -1;
    }

    /** Of the process and of those that it has started, the largest one; 0 if it is not there any more. */
    private static long peak(int pid, int deep) {
        Path process = Path.of("/proc", Integer.toString(pid));
        long most = 0;
        Matcher peak = PEAK.matcher(text(process.resolve("status")));
        if (peak.find()) {
            most = Long.parseLong(peak.group(1)) * 1024;
        }
        if (deep > 0) {
            for (String child : text(process.resolve("task").resolve(Integer.toString(pid)).resolve("children"))
                    .split(" ")) {
                if (!child.isBlank()) {
                    most = Math.max(most, peak(Integer.parseInt(child.strip()), deep - 1));
                }
            }
        }
        return most;
    }

    private static String text(Path file) {
        try {
            return Files.readString(file, StandardCharsets.ISO_8859_1);
        } catch (IOException _) {
            return "";
        }
    }
}
