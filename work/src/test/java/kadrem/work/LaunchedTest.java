package kadrem.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;

import kadrem.core.study.Candidate;
import kadrem.files.study.StudyFile;
import kadrem.fixtures.Ports;
import kadrem.load.gate.Consent;
import kadrem.standins.berths.LoopService;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** How candidates stand that are looked at by hand. */
@Timeout(value = 60, unit = TimeUnit.SECONDS)
class LaunchedTest {
    @TempDir
    private Path folder;
    private final Semaphore changes = new Semaphore(0);
    private final Launched launched = new Launched(changes::release);

    @AfterEach
    void end() {
        launched.close();
    }

    private StudyFile study(String command) throws Exception {
        return study(command, Ports.free());
    }

    private StudyFile study(String command, int port) throws Exception {
        Files.writeString(folder.resolve("study.yaml"),
                """
                        kadrem: 1
                        name: Berth board
                        question:
                          text: Which one?
                          decide: [{metric: p50}]
                        candidates:
                          - {id: pool, address: "http://127.0.0.1:%d", ready: /health, launch: {command: [sh, -c, "%s"], readyWithin: 20s}}
                          - {id: loop, address: "http://127.0.0.1:%d"}
                        workload:
                          visits: [{name: look, calls: [{name: look, path: /berths}]}]
                        load: {model: closed, users: 1, warmUp: 0s, measured: 1s, timeout: 5s}
                        """
                        .formatted(port, command, Ports.free()));
        Consent.ofUser().own(folder);
        return StudyFile.read(folder);
    }

    private Launched.Status next(String candidate) throws InterruptedException {
        assertThat(changes.tryAcquire(30, TimeUnit.SECONDS)).as("a change is told").isTrue();
        return launched.status(candidate);
    }

    @Test
    void oneThatDoesNotComeUpIsToldWithItsLastWords() throws Exception {
        StudyFile file = study("echo no berths today; exit 3");
        Candidate pool = file.study().candidates().getFirst();
        launched.launch(pool, file.measured().workload(), folder);
        assertThat(next("pool")).isEqualTo(new Launched.Status.ComingUp());
        Launched.Status after = next("pool");
        assertThat(after.isProblem()).isTrue();
        assertThat(after.words()).contains("before its ready probe answered")
                .endsWith("its last words: no berths today");
        assertThat(launched.pid("pool")).isEmpty();
    }

    @Test
    void oneThatNobodyLaunchedIsNotRunning() throws Exception {
        StudyFile file = study("true");
        launched.probe(file.study().candidates().getLast(), file.measured().workload(), folder);
        assertThat(next("loop").words()).isEqualTo("not running");
    }

    /** A driver of the user's own may throw anything: its candidate must not stay "coming up" for ever. */
    @Test
    void whatBreaksDownOverOneIsItsProblem() throws Exception {
        StudyFile file = study("true");
        Candidate broken = mock(Candidate.class);
        when(broken.id()).thenReturn("pool");
        when(broken.launch()).thenReturn(file.study().candidates().getFirst().launch());
        when(broken.address()).thenThrow(new NoClassDefFoundError("harbour/Driver"));
        launched.probe(broken, file.measured().workload(), folder);
        assertThat(next("pool").words()).contains("harbour/Driver");
        launched.launch(broken, file.measured().workload(), folder);
        assertThat(next("pool")).isEqualTo(new Launched.Status.ComingUp());
        assertThat(next("pool").words()).contains("harbour/Driver");
    }

    /** One that answers no more is launched anew, and not twice. */
    @Test
    void whatWasLaunchedBeforeIsEndedFirst() throws Exception {
        int port = Ports.free();
        StudyFile file = study("exec sleep 100", port);
        Candidate pool = file.study().candidates().getFirst();
        launched.launch(pool, file.measured().workload(), folder);
        assertThat(next("pool")).isEqualTo(new Launched.Status.ComingUp());
        // stands for the server that the process would be
        try (LoopService _ = LoopService.on(port)) {
            assertThat(next("pool").isUp()).as(launched.status("pool").words()).isTrue();
        }
        long first = launched.pid("pool").orElseThrow();
        launched.probe(pool, file.measured().workload(), folder);
        assertThat(next("pool").words()).startsWith("does not answer");
        ProcessHandle process = ProcessHandle.of(first).orElseThrow();
        launched.launch(pool, file.measured().workload(), folder);
        process.onExit().get(20, TimeUnit.SECONDS);
    }
}
