package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.locks.LockSupport;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Address;
import kadrem.core.study.Agreement;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Requirement;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Verdict;
import kadrem.fixtures.Ports;
import kadrem.load.engine.Quiet;
import kadrem.load.gate.Allow;
import kadrem.load.generator.LocalLoad;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;
import org.mockito.Mockito;

/**
 * Services that misbehave, really measured beside a steady one that is slower: none of them is recommended, each is named with what it did,
 * and the steady one is judged.
 */
@Timeout(180)
@Execution(ExecutionMode.CONCURRENT)
class TrapsTest {
    private static final int ROUNDS = 7;
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();

    @TempDir
    private Path folder;
    private final MemoryStore store = new MemoryStore();
    private final List<HttpServer> servers = new ArrayList<>();
    private final List<ExecutorService> threads = new ArrayList<>();
    /** The round under way. */
    private final AtomicInteger round = new AtomicInteger();

    /** How a service answers its n-th call. */
    private interface Answer {
        void to(HttpExchange exchange, int number) throws IOException;
    }

    @AfterEach
    void stop() {
        servers.forEach(server -> server.stop(0));
        threads.forEach(ExecutorService::shutdownNow);
    }

    private static void answer(HttpExchange exchange, int status) throws IOException {
        exchange.sendResponseHeaders(status, 2);
        try (var out = exchange.getResponseBody()) {
            out.write(new byte[2]);
        }
    }

    private static void rest(long millis) {
        LockSupport.parkNanos(millis * 1_000_000);
    }

    private Candidate service(String id, Answer answer) throws IOException {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 256);
        var calls = new AtomicInteger();
        server.createContext("/", exchange -> {
            if (exchange.getRequestURI().getPath().equals("/health")) {
                answer(exchange, 200);
            } else {
                answer.to(exchange, calls.incrementAndGet());
            }
        });
        ExecutorService pool = Executors.newCachedThreadPool();
        threads.add(pool);
        server.setExecutor(pool);
        server.start();
        servers.add(server);
        return new Candidate(id, id, new Address("127.0.0.1", server.getAddress().getPort(), ""), Optional.empty(),
                "/health", Optional.empty(), Optional.empty());
    }

    /** Answers in 12 ms, whatever happens. */
    private Candidate steady() throws IOException {
        return service("steady", (exchange, _) -> {
            rest(12);
            answer(exchange, 200);
        });
    }

    private Verdict measured(Candidate trap, int connections) throws IOException {
        return measured(trap, connections, ROUNDS, 1);
    }

    private Verdict measured(Candidate trap, int connections, int rounds, int seconds) throws IOException {
        var question = new Question("?", "steady", 0.05, List.of(new Question.Decider(Metric.P95, 0.1)),
                List.of(new Requirement(Metric.ERROR_SHARE, 0.05)));
        var usual = new LoadProfile.Open(80, LoadProfile.Spacing.CONSTANT, 4, Duration.ZERO,
                Duration.ofSeconds(seconds), Duration.ofSeconds(1));
        var load = new LoadProfile.Open(usual.shape(), usual.spacing(), 4, connections, usual.course());
        var study = new MeasuredStudy("s", question, List.of(steady(), trap),
                new Workload(List.of(), List.of(new Visit("v", 1, List.of(Call.of("c", "GET", "/c"))))), load,
                new Plan(rounds, 3, Duration.ZERO), Agreement.EXACT, List.of(), Quiet.notAskedFor());
        Allow.all(study, folder);
        CampaignListener listener = Mockito.mock(CampaignListener.class);
        Mockito.doAnswer(call -> {
            round.set(call.<RunRecord>getArgument(0).round());
            return null;
        }).when(listener).runBegins(Mockito.any(), Mockito.anyInt(), Mockito.anyInt(), Mockito.any());
        List<RunRecord> made = new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(),
                listener)
                .run(rounds);
        assertThat(made).as("every run once, whatever came of it").hasSize(2 * rounds);
        Verdict verdict = Verdict.of(Comparison.of(study, store.runs()), Optional.empty(), 3);
        assertThat(verdict.comparison().progress().measured()).isEqualTo(rounds);
        assertThat(verdict.chosen()).doesNotContain("trap");
        return verdict;
    }

    private static void steadyIsRecommended(Verdict verdict) {
        assertThat(verdict.chosen()).as(verdict.paragraph()).containsExactly("steady");
    }

    @Test
    void fastErrorsAreNotFastAnswers() throws IOException {
        Verdict verdict = measured(service("trap", (exchange, _) -> answer(exchange, 500)), 64);
        steadyIsRecommended(verdict);
        assertThat(verdict.paragraph()).contains("trap misses error share at most 5 %");
        assertThat(verdict.comparison().values(Metric.P95, "trap").values())
                .allMatch(value -> value == Double.POSITIVE_INFINITY);
    }

    @Test
    void errorsInThreeOfSevenRoundsStayInTheFigures() throws IOException {
        Verdict verdict = measured(service("trap",
                (exchange, number) -> answer(exchange, round.get() % 2 == 0 && number % 5 < 3 ? 500 : 200)), 64);
        // another round may be spoiled by the machine, and stays in, too
        assertThat(verdict.comparison().values(Metric.ERROR_SHARE, "trap")).extractingByKeys(2, 4, 6)
                .allMatch(share -> share > 0.4);
        assertThat(verdict.comparison().values(Metric.P95, "trap")).extractingByKeys(2, 4, 6)
                .as("p95 is not reached in them").allMatch(value -> value.isInfinite());
    }

    @Test
    void callsThatAreNeverAnsweredAreTheSlowest() throws IOException {
        Verdict verdict = measured(service("trap", (exchange, number) -> {
            if (number % 10 == 0) {
                rest(1_500);
            }
            answer(exchange, 200);
        }), 64);
        steadyIsRecommended(verdict);
        assertThat(verdict.paragraph()).contains("trap misses error share");
    }

    @Test
    void arrivalsThatAreNeverSentCountAgainstWhoHoldsTheConnections() throws IOException {
        Candidate slow = service("trap", (exchange, _) -> {
            rest(400);
            answer(exchange, 200);
        });
        Verdict verdict = measured(slow, 4);
        steadyIsRecommended(verdict);
        assertThat(store.runs().stream().filter(run -> run.candidate().equals("trap"))
                .map(run -> run.figures().orElseThrow())).allSatisfy(figures -> {
                    assertThat(figures.due()).as("all that the load asked for").isEqualTo(80);
                    assertThat(figures.errorShare()).isGreaterThan(0.5);
                });
    }

    @Test
    void stallsInHalfTheRunsStayInTheFigures() throws IOException {
        Verdict verdict = measured(service("trap", (exchange, number) -> {
            if (round.get() % 2 == 0 && number % 80 > 40 && number % 80 < 60) {
                rest(300);
            }
            answer(exchange, 200);
        }), 64);
        assertThat(verdict.comparison().values(Metric.P95, "trap")).extractingByKeys(2, 4, 6)
                .allMatch(value -> value > 200e6);
    }

    /** It is faster at first, and would win by short runs. */
    @Test
    void whoGetsSlowerWhileItIsMeasuredIsNamed() throws IOException {
        int rounds = 3;
        int seconds = 12;
        var calls = new ConcurrentHashMap<Integer, AtomicInteger>();
        Verdict verdict = measured(service("trap", (exchange, _) -> {
            // 80 calls a second: from 2 ms by 2 ms each second of a run
            rest(2 + calls.computeIfAbsent(round.get(), _ -> new AtomicInteger()).incrementAndGet() / 40);
            answer(exchange, 200);
        }), 64, rounds, seconds);
        assertThat(verdict.paragraph()).containsPattern(
                "trap gets slower while it is measured: its response times rise by \\d+ % of their median a minute in the middle of 3 of 3 rounds");
        assertThat(verdict.paragraph()).doesNotContain("steady gets");
        assertThat(verdict.comparison().values(Metric.P95, "trap").values()).hasSize(rounds)
                .allMatch(value -> value > 20e6);
    }

    /** Its work is done by another process, which is nobody's that Kadrem launched: that is no reason to leave its runs out. */
    @Test
    void aDatabaseOfItsOwnKeepsNoRunOut() throws IOException {
        Process database = new ProcessBuilder("sh", "-c",
                "while read berth; do i=0; while [ $i -lt 3000 ]; do i=$((i+1)); done; echo $berth; done")
                .redirectError(ProcessBuilder.Redirect.DISCARD).start();
        var ask = database.outputWriter();
        var told = database.inputReader();
        try {
            Verdict verdict = measured(service("trap", (exchange, _) -> {
                rest(12);
                synchronized (database) {
                    ask.write("7\n");
                    ask.flush();
                    told.readLine();
                }
                answer(exchange, 200);
            }), 64);
            steadyIsRecommended(verdict);
            assertThat(verdict.comparison().setAside().rounds()).isEmpty();
            assertThat(verdict.comparison().values(Metric.P95, "trap").values()).hasSize(ROUNDS);
        } finally {
            database.destroyForcibly();
        }
    }

    @Test
    void whoDiesInHalfOfItsRunsIsNamed() throws IOException {
        int port = Ports.free();
        var launch = new Launch(List.of(JAVA, "-Xshare:auto", "-XX:TieredStopAtLevel=1", "-cp",
                System.getProperty("java.class.path"), Dying.class.getName(), "{{port}}", folder.toString()), ".",
                Map.of(),
                Optional.empty(), Duration.ofSeconds(60), Duration.ofSeconds(5));
        Verdict verdict = measured(
                new Candidate("trap", "trap", new Address("127.0.0.1", port, ""), Optional.of(launch),
                        "/health", Optional.empty(), Optional.empty()),
                64);
        assertThat(verdict.paragraph()).contains("trap died in 3 of 7 rounds");
        assertThat(verdict.comparison().outcomes()).hasSize(3)
                .allMatch(one -> one.why().contains("ended with exit code 3"));
    }

    /** Ends in the middle of the load of every other start. */
    static final class Dying {
        private Dying() {
        }

        public static void main(String[] arguments) throws Exception {
            Path starts = Path.of(arguments[1]).resolve("starts");
            java.nio.file.Files.writeString(starts, "x", java.nio.file.StandardOpenOption.CREATE,
                    java.nio.file.StandardOpenOption.APPEND);
            boolean dies = java.nio.file.Files.size(starts) % 2 == 0;
            var calls = new AtomicInteger();
            HttpServer server = HttpServer.create(
                    new InetSocketAddress(InetAddress.getLoopbackAddress(), Integer.parseInt(arguments[0])), 256);
            server.setExecutor(Executors.newCachedThreadPool());
            server.createContext("/", exchange -> {
                if (dies && calls.incrementAndGet() > 20) {
                    Runtime.getRuntime().halt(3);
                }
                answer(exchange, 200);
            });
            server.start();
            TimeUnit.MINUTES.sleep(5);
        }
    }

    @Test
    void whoNeverStartsHoldsNobodyBack() throws IOException {
        var launch = new Launch(List.of("sh", "-c", "echo no licence >&2; exit 4"), ".", Map.of(), Optional.empty(),
                Duration.ofSeconds(20), Duration.ofSeconds(5));
        Verdict verdict = measured(new Candidate("trap", "trap", new Address("127.0.0.1", Ports.free(), ""),
                Optional.of(launch), "/health", Optional.empty(), Optional.empty()), 64);
        steadyIsRecommended(verdict);
        assertThat(verdict.paragraph()).contains("trap did not start in 7 of 7 rounds");
        assertThat(store.runs().stream().filter(run -> run.candidate().equals("trap")))
                .allMatch(run -> run.lastOutput().contains("no licence"));
    }
}
