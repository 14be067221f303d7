package kadrem.load.campaign;

import java.io.BufferedReader;
import java.io.File;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

import kadrem.core.measure.RunRecord;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;

/** A candidate that Kadrem launched, with all processes that it started in turn. Safe for use by several threads. */
public final class CandidateProcess {
    /** Environment variable by which a process that outlived Kadrem is recognised as part of a run. */
    static final String RUN_VARIABLE = "KADREM_RUN";
    private static final int KEPT_LINES = 60;
    private static final int KEPT_LINE_LENGTH = 500;

    private final Process process;
    private final Launch launch;
    private final boolean pinned;
    private final Deque<String> lastLines = new ArrayDeque<>();
    private final Thread reader;

    private CandidateProcess(Process process, Launch launch, boolean pinned) {
        this.process = process;
        this.launch = launch;
        this.pinned = pinned;
        reader = Thread.ofVirtual().name("candidate-output").start(this::readOutput);
    }

    /**
     * Starts the candidate.
     *
     * @param studyFolder folder to which the launch's working folder is relative
     * @param kadrem the program that {@code {{kadrem}}} in the command stands for
     * @param runId put into the environment of the process
     * @throws CandidateFailure if the command cannot be started
     */
    public static CandidateProcess start(Candidate candidate, Launch launch, Path studyFolder, String kadrem,
            String runId) throws CandidateFailure {
        Path folder = studyFolder.resolve(launch.folder()).normalize();
        if (!Files.isDirectory(folder)) {
            throw new CandidateFailure("its working folder " + folder + " is not there");
        }
        var command = new ArrayList<String>();
        boolean pinned = launch.processors().isPresent() && onPath("taskset");
        if (pinned) {
            command.addAll(List.of("taskset", "-c", launch.processors().get()));
        }
        for (String part : launch.command()) {
            command.add(part.replace("{{kadrem}}", kadrem).replace("{{port}}",
                    Integer.toString(candidate.address().port())));
        }
        String program = launch.command().getFirst().replace("{{kadrem}}", kadrem);
        if (!onPath(program) && !Files.isExecutable(folder.resolve(program))) {
            throw new CandidateFailure("its program " + program + " is not there or may not be executed");
        }
        var builder = new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true)
                .redirectInput(ProcessBuilder.Redirect.from(nullDevice()));
        builder.environment().putAll(launch.environment());
        builder.environment().put(RUN_VARIABLE, runId);
        try {
            return new CandidateProcess(builder.start(), launch, pinned);
        } catch (IOException cause) {
            throw new CandidateFailure(
                    "its command " + String.join(" ", launch.command()) + " cannot be started: " + cause.getMessage());
        }
    }

    private static File nullDevice() {
        return new File(File.separatorChar == '\\' ? "NUL" : "/dev/null");
    }

    private static boolean onPath(String program) {
        return Arrays.stream(System.getenv().getOrDefault("PATH", "").split(File.pathSeparator))
                .anyMatch(folder -> !folder.isEmpty() && Files.isExecutable(Path.of(folder, program)));
    }

    private void readOutput() {
        try (BufferedReader lines = process.inputReader(StandardCharsets.UTF_8)) {
            for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                String kept = line.length() > KEPT_LINE_LENGTH ? line.substring(0, KEPT_LINE_LENGTH) : line;
                synchronized (lastLines) {
                    lastLines.addLast(kept);
                    if (lastLines.size() > KEPT_LINES) {
                        lastLines.removeFirst();
                    }
                }
            }
        } catch (IOException _) {
            // the process is gone, and with it its output
        }
    }

    public long pid() {
        return process.pid();
    }

    public boolean isAlive() {
        return process.isAlive();
    }

    /** Whether the processor set was applied. */
    public boolean isPinned() {
        return pinned;
    }

    /** "exit code 1", or how else the process ended; only once it is not alive. */
    public String howItEnded() {
        int code = process.exitValue();
        return code > 128 && code < 160 ? "ended by signal " + (code - 128) : "ended with exit code " + code;
    }

    /** The last lines that the candidate wrote to its output and error streams, oldest first. */
    public List<String> lastLines() {
        if (!process.isAlive()) {
            try {
                reader.join(Duration.ofSeconds(1));
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            }
        }
        synchronized (lastLines) {
            return List.copyOf(lastLines);
        }
    }

    /** The ids under which a leftover of this run is found again. */
    RunRecord.Processes ids() {
        ProcessHandle self = ProcessHandle.current();
        return new RunRecord.Processes(self.pid(), started(self), process.pid(), started(process.toHandle()));
    }

    static long started(ProcessHandle handle) {
        return handle.info().startInstant().map(java.time.Instant::toEpochMilli).orElse(0L);
    }

    /** Asks the whole tree to end, waits for the launch's time limit, and then ends it by force. */
    public void stop() {
        endTree(process.toHandle(), launch.stopWithin());
    }

    /** Ends a process and all its descendants: politely, and after {@code grace} by force. */
    static void endTree(ProcessHandle root, Duration grace) {
        List<ProcessHandle> tree = Stream.concat(root.descendants(), Stream.of(root)).toList();
        tree.forEach(ProcessHandle::destroy);
        long deadline = System.nanoTime() + grace.toNanos();
        for (ProcessHandle handle : tree) {
            try {
                handle.onExit().get(Math.max(1, deadline - System.nanoTime()), TimeUnit.NANOSECONDS);
            } catch (java.util.concurrent.TimeoutException | java.util.concurrent.ExecutionException _) {
                handle.destroyForcibly();
            } catch (InterruptedException _) {
                handle.destroyForcibly();
                Thread.currentThread().interrupt();
            }
        }
    }
}
