package kadrem.load.campaign;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.Stream;

import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.RunStore;

/**
 * Clears up after a Kadrem that ended in the middle of a run: ends the processes that it launched and marks the run as cut
 * off. A process is only ended if its id and start instant, or the run's id in its environment, show that it is one of
 * them.
 */
public final class Leftovers {
    private static final Duration GRACE = Duration.ofSeconds(3);

    private Leftovers() {
    }

    /** Clears up and returns the runs that are now marked as cut off. */
    public static List<RunRecord> clear(RunStore store, Instant now) {
        return store.runs().stream().filter(run -> run.outcome() == RunOutcome.RUNNING)
                .filter(run -> !isAlive(run.processes().kadremPid(), run.processes().kadremStarted())).map(run -> {
                    endProcesses(run);
                    RunRecord cutOff = run.withOutcome(RunOutcome.CUT_OFF,
                            "Kadrem ended in the middle of this run; what was measured until then is kept", now);
                    store.replace(cutOff);
                    return cutOff;
                }).toList();
    }

    private static boolean isAlive(long pid, long started) {
        return ProcessHandle.of(pid).filter(handle -> handle.isAlive() && CandidateProcess.started(handle) == started)
                .isPresent();
    }

    private static void endProcesses(RunRecord run) {
        long pid = run.processes().candidatePid();
        if (pid > 0 && isAlive(pid, run.processes().candidateStarted())) {
            ProcessHandle.of(pid).ifPresent(root -> CandidateProcess.endTree(root, GRACE));
        }
        ProcessHandle.allProcesses().filter(handle -> carriesRun(handle.pid(), run.id()))
                .forEach(handle -> CandidateProcess.endTree(handle, GRACE));
    }

    /** Whether the process was started in a run, by its environment as Linux shows it; false elsewhere. */
    private static boolean carriesRun(long pid, String runId) {
        Path environment = Path.of("/proc", Long.toString(pid), "environ");
        if (pid == ProcessHandle.current().pid() || !Files.isReadable(environment)) {
            return false;
        }
        try {
            String[] variables = new String(Files.readAllBytes(environment), StandardCharsets.ISO_8859_1).split("\0");
            return Stream.of(variables).anyMatch((CandidateProcess.RUN_VARIABLE + "=" + runId)::equals);
        } catch (IOException _) {
            return false;
        }
    }
}
