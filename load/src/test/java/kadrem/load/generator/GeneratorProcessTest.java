package kadrem.load.generator;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunTotals;
import kadrem.core.measure.SecondTally;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.http.HttpPeer;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadResult;
import kadrem.load.engine.LoadSession;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.condition.EnabledOnOs;
import org.junit.jupiter.api.condition.OS;
import org.junit.jupiter.api.parallel.Isolated;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The process of the load as Kadrem starts it, and what becomes of the figures when it or the candidate is held up. */
@Isolated
@Timeout(180)
class GeneratorProcessTest {
    private static final Workload LOOK = new Workload(List.of(),
            List.of(new Visit("look", 1, List.of(Call.of("look", "GET", "/berths/7")))));
    private static final Secrets NONE = new Secrets(Map.of(), Path.of(""));
    private static final double RATE = 2_000;
    private static final int SECONDS = 4;
    private static final int TRIES = 4;
    private static final double MAX_P95 = 300e6;

    /** Adds up what a session records. */
    private static final class Kept implements LoadListener {
        private final RunTotals totals;
        private final List<Exchange> exchanges = new ArrayList<>();

        Kept(Workload workload, int seconds) {
            totals = new RunTotals(workload.calls().stream().map(Call::name).toList(), 0, seconds);
        }

        @Override
        public void second(SecondTally tally) {
            totals.add(tally);
        }

        @Override
        public void exchange(Exchange exchange) {
            exchanges.add(exchange);
        }
    }

    private static LoadOrder order(int port, double rate, int seconds) {
        return new LoadOrder(new Address("127.0.0.1", port, ""), LOOK,
                new LoadProfile.Open(rate, LoadProfile.Spacing.CONSTANT, 64, Duration.ZERO,
                        Duration.ofSeconds(seconds), Duration.ofSeconds(10)),
                1, 1);
    }

    private static LoadResult run(LoadMaker maker, LoadOrder order, Kept kept, Runnable meanwhile)
            throws UnusableCall {
        try (LoadSession load = maker.prepare(order, NONE, kept)) {
            load.begin(System.nanoTime() + 50_000_000);
            meanwhile.run();
            load.await();
            return load.result();
        }
    }

    private static void signal(String name, long pid) {
        try {
            int code = new ProcessBuilder("kill", "-" + name, Long.toString(pid)).start().waitFor();
            assertThat(code).isZero();
        } catch (IOException cause) {
            throw new java.io.UncheckedIOException(cause);
        } catch (InterruptedException cause) {
            throw new AssertionError(cause);
        }
    }

    /** Stops a process in the middle of a run, for a time. */
    private static Runnable holding(long pid, long millis) {
        return () -> {
            try {
                TimeUnit.MILLISECONDS.sleep(SECONDS * 500L);
                signal("STOP", pid);
                TimeUnit.MILLISECONDS.sleep(millis);
            } catch (InterruptedException cause) {
                throw new AssertionError(cause);
            } finally {
                signal("CONT", pid);
            }
        };
    }

    /**
     * A generator that is held up over the start does not send in one burst what was due meanwhile, which would be a load of its own making:
     * it catches up at twice the rate, so that two thirds of what is due in three seconds are late after a second's stop; in a burst it
     * would be one third. What held it up is told.
     */
    @Test
    @EnabledOnOs(OS.LINUX)
    void aGeneratorThatIsHeldUpOverTheStartCatchesUpAndSaysSo() throws Exception {
        try (var peer = HttpPeer.of(LOOK, Wire.USUAL); var generator = new GeneratorProcess()) {
            run(generator, order(peer.address().port(), RATE, 1), new Kept(LOOK, 1), () -> {
            });
            var kept = new Kept(LOOK, 3);
            try (LoadSession load = generator.prepare(order(peer.address().port(), RATE, 3), NONE, kept)) {
                long pid = generator.pid().getAsLong();
                signal("STOP", pid);
                try {
                    load.begin(System.nanoTime());
                    TimeUnit.SECONDS.sleep(1);
                } finally {
                    signal("CONT", pid);
                }
                load.await();
            }
            RunFigures figures = kept.totals.figures();
            assertThat(figures.good()).isEqualTo(Math.round(RATE * 3));
            assertThat(figures.late().max()).as("the first was late by the stop").isGreaterThan(950_000_000);
            assertThat((double) figures.late().p50()).as("not in one burst").isGreaterThan(50e6);
            assertThat(kept.totals.longTurns()).as("told, with its cause")
                    .anyMatch(turns -> turns.longestNanos() > 950_000_000);
        }
    }

    @Test
    void anotherProcessSendsTheSameAndRecordsTheSame() throws UnusableCall {
        try (var peer = HttpPeer.of(LOOK, Wire.USUAL); var generator = new GeneratorProcess()) {
            LoadOrder order = order(peer.address().port(), 200, 2);
            var here = new Kept(LOOK, 2);
            LoadResult local = run(LocalLoad.MAKER, order, here, () -> {
            });
            var there = new Kept(LOOK, 2);
            LoadResult remote = run(generator, order, there, () -> {
            });
            assertThat(remote.stream()).isEqualTo(local.stream());
            assertThat(remote.intended()).isEqualTo(400).isEqualTo(local.intended());
            assertThat(there.totals.figures().good()).isEqualTo(400).isEqualTo(here.totals.figures().good());
            assertThat(there.totals.figures().response().count()).isEqualTo(400);
            assertThat(there.exchanges).hasSize(5);
            assertThat(generator.pid()).isPresent();
            assertThat(generator.pid().getAsLong()).isNotEqualTo(ProcessHandle.current().pid());
        }
    }

    @Test
    void whatCannotBeMadeReadyIsToldAsByThisProcess() {
        var unknown = new Workload(List.of(), List.of(new Visit("v", 1, List.of(Call.of("c", "GET", "/{{nothing}}")))));
        try (var generator = new GeneratorProcess()) {
            LoadOrder order = new LoadOrder(new Address("127.0.0.1", 1, ""), unknown, order(1, 1, 1).load(), 1, 1);
            assertThatThrownBy(() -> generator.prepare(order, NONE, new Kept(unknown, 1)))
                    .isInstanceOf(UnusableCall.class).hasMessageContaining("{{nothing}}");
        }
    }

    /** The load breaks down and says so, nothing hangs, and the next load is made by a new process. */
    @Test
    void aProcessThatDiesIsAFaultOfKadremsOwnAndIsReplaced() throws UnusableCall {
        try (var peer = HttpPeer.of(LOOK, Wire.USUAL); var generator = new GeneratorProcess()) {
            LoadOrder order = order(peer.address().port(), 200, 3);
            assertThatThrownBy(() -> run(generator, order, new Kept(LOOK, 3),
                    () -> signal("KILL", generator.pid().getAsLong()))).isInstanceOf(IllegalStateException.class)
                    .hasMessageContaining("the process of the load broke down: it ended with 137");
            var kept = new Kept(LOOK, 1);
            run(generator, order(peer.address().port(), 200, 1), kept, () -> {
            });
            assertThat(kept.totals.figures().good()).isEqualTo(200);
        }
    }

    @Test
    void aLoadThatIsStoppedEndsAtOnce() throws UnusableCall {
        try (var peer = HttpPeer.of(LOOK, Wire.USUAL);
                var generator = new GeneratorProcess();
                LoadSession load = generator.prepare(order(peer.address().port(), 200, 600), NONE,
                        new Kept(LOOK, 600))) {
            load.begin(System.nanoTime());
            load.stop();
            load.await();
            assertThat(load.result().stopped()).isTrue();
        }
    }

    /**
     * What the generator does to itself is its own: with the late part taken away p99 is not that of the stop, and how much was late is
     * told. The machine that runs the tests takes time away of itself, so that each run stands beside one that is left alone and the best of
     * some pairs counts; docs/proof.md has the figures of quiet minutes, which {@link HeldUpBenchmark} prints.
     */
    @ParameterizedTest
    @ValueSource(longs = {20, 100, 400})
    @EnabledOnOs(OS.LINUX)
    void aGeneratorThatIsHeldUpIsLateAndTheCandidateIsNot(long millis) throws UnusableCall {
        try (var peer = HttpPeer.of(LOOK, Wire.USUAL); var generator = new GeneratorProcess()) {
            run(generator, order(peer.address().port(), RATE, 2), new Kept(LOOK, 2), () -> {
            });
            long most = millis * 1_000_000 / 4 + 1_000_000;
            long beyond = Long.MAX_VALUE;
            boolean told = false;
            for (int i = 0; i < TRIES && (!told || beyond > most); i++) {
                var left = new Kept(LOOK, SECONDS);
                run(generator, order(peer.address().port(), RATE, SECONDS), left, () -> {
                });
                var kept = new Kept(LOOK, SECONDS);
                run(generator, order(peer.address().port(), RATE, SECONDS), kept,
                        holding(generator.pid().getAsLong(), millis));
                RunFigures figures = kept.totals.figures();
                assertThat(figures.sent()).isEqualTo(Math.round(RATE * SECONDS));
                assertThat(figures.late().max()).as("the generator's own").isGreaterThan((millis - 5) * 1_000_000);
                // a stop between a look at the clock and the wait that follows is taken for a part of the wait
                told |= kept.totals.longTurns().stream()
                        .anyMatch(turns -> turns.longestNanos() > (millis - 5) * 1_000_000);
                // of four seconds only the longest stop is far beyond the hundredth part that p99 leaves out
                boolean reached = millis == 400;
                assertThat((double) figures.raw().p99()).as("p99 as it was").isGreaterThan(reached ? 300e6 : 0);
                assertThat(figures.lateShare(Metric.P99).orElseThrow()).isGreaterThanOrEqualTo(reached ? 0.5 : 0);
                beyond = Math.min(beyond, figures.response().p99() - left.totals.figures().response().p99());
            }
            assertThat(told).as("turns that took long, with their cause").isTrue();
            assertThat(beyond).as("p99 without the late part, beyond that of a run that was left alone")
                    .isLessThan(most);
        }
    }

    /** What the candidate does is the candidate's: response time shows the whole stop, and nothing of it is called late. */
    @Test
    @EnabledOnOs(OS.LINUX)
    void aCandidateThatIsHeldUpIsSlowAndTheGeneratorIsNotLate() throws UnusableCall, IOException {
        Process candidate = new ProcessBuilder(Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-cp",
                System.getProperty("java.class.path"), PeerMain.class.getName())
                .redirectError(ProcessBuilder.Redirect.INHERIT).start();
        try (var generator = new GeneratorProcess();
                var out = new BufferedReader(new InputStreamReader(candidate.getInputStream()))) {
            int port = Integer.parseInt(out.readLine());
            run(generator, order(port, RATE, 2), new Kept(LOOK, 2), () -> {
            });
            RunFigures figures = held(generator, port, candidate.pid());
            for (int i = 1; i < TRIES && figures.response().p95() > MAX_P95; i++) {
                // a machine that is busy besides only adds to it
                figures = held(generator, port, candidate.pid());
            }
            assertThat(figures.good()).isEqualTo(Math.round(RATE * SECONDS));
            // a tenth of the arrivals met the stop (methods.md, periodic stall): their times are uniform up to its length
            assertThat((double) figures.response().p95()).isBetween(100e6, MAX_P95);
            assertThat(figures.lateShare(Metric.P95).orElseThrow()).as("the generator's own").isLessThan(0.5);
        } finally {
            candidate.destroyForcibly();
        }
    }

    private static RunFigures held(GeneratorProcess generator, int port, long candidate) throws UnusableCall {
        var kept = new Kept(LOOK, SECONDS);
        run(generator, order(port, RATE, SECONDS), kept, holding(candidate, 400));
        return kept.totals.figures();
    }

    /** A candidate in a process of its own: prints its port and answers until it is ended. */
    static final class PeerMain {
        private PeerMain() {
        }

        public static void main(String[] arguments) throws InterruptedException {
            try (var peer = HttpPeer.of(LOOK, Wire.USUAL)) {
                System.out.println(peer.address().port());
                TimeUnit.MINUTES.sleep(3);
            }
        }
    }
}
