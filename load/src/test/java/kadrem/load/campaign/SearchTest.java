package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.IntUnaryOperator;

import com.sun.net.httpserver.HttpServer;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.LevelResult.Step;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.RunState;
import kadrem.core.study.Address;
import kadrem.core.study.Agreement;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Judgement;
import kadrem.core.study.Launch;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Requirement;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.StopRule;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.load.gate.Allow;
import kadrem.load.generator.LocalLoad;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Campaigns that search levels, end by rules, or measure candidates together; against real services. */
class SearchTest {
    @TempDir
    private Path folder;
    private final MemoryStore store = new MemoryStore();
    private final List<HttpServer> servers = new ArrayList<>();

    @AfterEach
    void stop() {
        servers.forEach(server -> server.stop(0));
    }

    /** A service on {@code threads} threads whose n-th answer to a call has a status and takes some time. */
    private Candidate service(String id, int threads, int millis, IntUnaryOperator status) throws IOException {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 256);
        var answered = new AtomicInteger();
        server.createContext("/", exchange -> {
            int number = exchange.getRequestURI().getPath().equals("/health") ? 0 : answered.incrementAndGet();
            java.util.concurrent.locks.LockSupport.parkNanos(number == 0 ? 1 : millis * 1_000_000L);
            exchange.sendResponseHeaders(number == 0 ? 200 : status.applyAsInt(number), 2);
            try (var out = exchange.getResponseBody()) {
                out.write(new byte[2]);
            }
        });
        server.setExecutor(Executors.newFixedThreadPool(threads));
        server.start();
        servers.add(server);
        return new Candidate(id, id, new Address("127.0.0.1", server.getAddress().getPort(), ""), Optional.empty(),
                "/health", Optional.empty(), Optional.empty());
    }

    /** Limits that a machine full of other work keeps too: what is tested here is the course, not the soundness. */
    private static Judgement lenient() {
        Map<SoundnessRule, Double> limits = new EnumMap<>(SoundnessRule.class);
        for (SoundnessRule rule : SoundnessRule.values()) {
            if (rule != SoundnessRule.CANDIDATE_PROCESS && rule != SoundnessRule.STREAM_DIGEST) {
                limits.put(rule, rule.accepts(1, 0) ? 0.0 : 1e9);
            }
        }
        return new Judgement(limits, List.of());
    }

    private static MeasuredStudy study(LoadProfile.Single load, boolean together, List<Requirement> requirements,
            Candidate... candidates) {
        var question = new Question("?", candidates[0].id(), 0.05, List.of(new Question.Decider(Metric.P99, 0.1)),
                requirements);
        return new MeasuredStudy("s", question, List.of(candidates),
                new Workload(List.of(), List.of(new Visit("v", 1, List.of(Call.of("c", "GET", "/c"))))), load,
                new Plan(1, 3, Duration.ZERO, Duration.ZERO, together), Agreement.EXACT, List.of(), lenient());
    }

    private static LoadProfile.Closed users(int users, int seconds) {
        return new LoadProfile.Closed(users, Duration.ZERO, Duration.ofSeconds(1), Duration.ofSeconds(seconds),
                Duration.ofSeconds(20));
    }

    private static LoadProfile.Open arrivals(double rate, int seconds) {
        return new LoadProfile.Open(rate, LoadProfile.Spacing.CONSTANT, 64, Duration.ofSeconds(1),
                Duration.ofSeconds(seconds), Duration.ofSeconds(20));
    }

    private List<RunRecord> run(MeasuredStudy study) throws IOException {
        Allow.all(study, folder);
        return new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(),
                mock(CampaignListener.class)).run(1);
    }

    private static RunRecord of(List<RunRecord> runs, String candidate) {
        return runs.stream().filter(run -> run.candidate().equals(candidate)).findFirst().orElseThrow();
    }

    /** One thread and 25 ms a call: 8 users wait 200 ms each, whatever else the machine does more. */
    @Test
    void aLadderEndsWhereARequirementBreaksAndEachLevelIsAResult() throws IOException {
        LoadProfile.Single load = users(1, 1);
        MeasuredStudy study = study(load.withCourse(load.course().withSearch(new LevelSearch.Ladder(1, 2, 0, 8, -1))),
                false,
                List.of(new Requirement(Metric.P50, 150e6)), service("one", 1, 25, _ -> 200));
        RunRecord run = run(study).getFirst();
        assertThat(run.outcome()).as(run.reason()).isEqualTo(RunOutcome.COMPLETE);
        LevelResult last = run.levels().getLast();
        assertThat(last.step()).isEqualTo(Step.BROKEN);
        assertThat(last.level()).isBetween(2.0, 8.0);
        assertThat(last.verdict()).startsWith("median response time is").endsWith("the limit is 150 ms");
        assertThat(run.levels()).allSatisfy(level -> assertThat(level.figures()).isPresent());
        assertThat(run.levels().getFirst().figures().orElseThrow().response().p50()).isGreaterThan(24_000_000);
        assertThat(run.figures()).as("the level of highest throughput stands for the run").isIn(
                run.levels().stream().filter(level -> level.step() == Step.PASSED).map(LevelResult::figures).toList());
    }

    /** Two threads and 20 ms a call serve 100 calls/s; beyond, arrivals queue without end. */
    @Test
    void aCeilingIsFoundByBisectionOfWholeRuns() throws IOException {
        LoadProfile.Single load = arrivals(1, 2);
        MeasuredStudy study = study(load.withCourse(load.course().withSearch(new LevelSearch.Ceiling(30, 240, 0.3, 5))),
                false,
                List.of(new Requirement(Metric.P50, 250e6)), service("two", 2, 20, _ -> 200));
        RunRecord run = run(study).getFirst();
        double ceiling = run.levels().stream().filter(level -> level.step() == Step.PASSED)
                .mapToDouble(LevelResult::level).max().orElse(0);
        double broken = run.levels().stream().filter(level -> level.step() == Step.BROKEN)
                .mapToDouble(LevelResult::level).min().orElseThrow();
        // how far below 100/s it lies is the machine's doing; above it is impossible
        assertThat(ceiling).as("%s", run.levels().stream().map(LevelResult::verdict).toList()).isLessThan(130)
                .isLessThan(broken);
        for (int i = 2; i < run.levels().size(); i++) {
            double level = run.levels().get(i).level();
            var before = run.levels().subList(0, i);
            double low = before.stream().filter(one -> one.step() == Step.PASSED).mapToDouble(LevelResult::level).max()
                    .orElse(0);
            double high = before.stream().filter(one -> one.step() == Step.BROKEN).mapToDouble(LevelResult::level).min()
                    .orElse(2 * level);
            assertThat(level).as("between the bounds so far").isBetween(low, high);
        }
        assertThat(run.levels()).anyMatch(level -> level.step() == Step.BROKEN);
    }

    /** A real process that runs out of memory at some level; what it said last is kept, and its sibling is measured on. */
    @Test
    void aCandidateThatDiesAtALevelGivesAResultAndItsSiblingsAreMeasuredOn() throws IOException {
        int port = Ports.free();
        var fragile = new Candidate("fragile", "fragile", new Address("127.0.0.1", port, ""),
                Optional.of(new Launch(
                        List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString(), "-Xmx24m",
                                "-XX:+UseSerialGC", "-XX:TieredStopAtLevel=1", "-XX:+ExitOnOutOfMemoryError", "-cp",
                                System.getProperty("java.class.path"), FragileService.class.getName(), "{{port}}"),
                        ".", Map.of(), Optional.empty(), Duration.ofSeconds(60), Duration.ofSeconds(5))),
                "/health", Optional.empty(), Optional.empty());
        LoadProfile.Single load = users(1, 1);
        MeasuredStudy study = study(load.withCourse(load.course().withSearch(new LevelSearch.Ladder(2, 4, 0, 4, -1))),
                false,
                List.of(), fragile, service("sturdy", 64, 5, _ -> 200));
        List<RunRecord> runs = run(study);
        RunRecord dead = of(runs, "fragile");
        LevelResult last = dead.levels().getLast();
        assertThat(last.step()).isEqualTo(Step.DIED);
        assertThat(last.level()).isIn(32.0, 128.0);
        assertThat(last.figures()).isEmpty();
        assertThat(dead.reason()).matches("died at (32|128) users: it ended with exit code 3.*");
        assertThat(dead.lastOutput()).anySatisfy(line -> assertThat(line).contains("OutOfMemoryError"));
        assertThat(dead.figures()).as("the levels that it lived through are results").isPresent();
        RunRecord sibling = of(runs, "sturdy");
        assertThat(sibling.outcome()).isEqualTo(RunOutcome.COMPLETE);
        assertThat(sibling.levels()).hasSize(4);
    }

    private static StopRule errors(boolean endsCampaign) {
        return new StopRule(Metric.ERROR_SHARE, 0.05, Duration.ofSeconds(2), endsCampaign);
    }

    private static LoadProfile.Single withRule(StopRule rule) {
        LoadProfile.Single load = arrivals(40, 15);
        return load.withCourse(load.course().withStopRules(List.of(rule)));
    }

    @Test
    void aStopRuleEndsARunAndTheNextIsMade() throws IOException {
        List<RunRecord> runs = run(study(withRule(errors(false)), false, List.of(),
                service("failing", 8, 1, number -> number < 100 ? 200 : 503),
                service("other", 8, 1, number -> number < 100 ? 200 : 503)));
        assertThat(runs).hasSize(2).allSatisfy(run -> {
            assertThat(run.outcome()).isEqualTo(RunOutcome.ENDED_BY_RULE);
            assertThat(run.reason()).startsWith("error share over 5 % for 2 s").contains(" s");
            assertThat(run.figures()).as("its figures are kept").isPresent();
            assertThat(Duration.between(run.started(), ((RunState.Ended) run.state()).at()))
                    .isLessThan(Duration.ofSeconds(14));
        });
    }

    @Test
    void aStopRuleMayEndTheCampaign() throws IOException {
        List<RunRecord> runs = run(study(withRule(errors(true)), false, List.of(),
                service("failing", 8, 1, _ -> 503), service("other", 8, 1, _ -> 503)));
        assertThat(runs).hasSize(1);
        assertThat(runs.getFirst().outcome()).isEqualTo(RunOutcome.ENDED_BY_RULE);
    }

    @Test
    void candidatesMayBeMeasuredAtTheSameTime() throws IOException {
        List<RunRecord> runs = run(study(arrivals(40, 2), true, List.of(), service("a", 8, 1, _ -> 200),
                service("b", 8, 1, _ -> 200)));
        assertThat(runs).hasSize(2).allSatisfy(run -> {
            assertThat(run.outcome()).as(run.reason()).isEqualTo(RunOutcome.COMPLETE);
            assertThat(run.figures().orElseThrow().sent()).isBetween(75L, 80L);
        });
        RunRecord a = of(runs, "a");
        RunRecord b = of(runs, "b");
        assertThat(a.started()).isBefore(((RunState.Ended) b.state()).at());
        assertThat(b.started()).isBefore(((RunState.Ended) a.state()).at());
        assertThat(a.stream()).as("both were sent the same").isEqualTo(b.stream());
    }
}
