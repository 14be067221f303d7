package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.inOrder;
import static org.mockito.Mockito.mock;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;

import kadrem.core.examine.WatchView;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.plan.Rounds;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.WatchSource;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.load.engine.Quiet;
import kadrem.load.gate.Allow;
import kadrem.load.generator.LocalLoad;
import kadrem.standins.berths.SqlService;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.mockito.InOrder;

/** Campaigns with real processes: the stand-ins, and programs that fail in every way a candidate can. */
class CampaignTest {
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();
    @TempDir
    private Path folder;
    private final MemoryStore store = new MemoryStore();

    private static Candidate standIn(String name, int port) {
        return candidate(name, port, List.of(JAVA, "-XX:TieredStopAtLevel=1", "-cp",
                System.getProperty("java.class.path"), "kadrem.standins.Main", name, "--port", "{{port}}"));
    }

    private static Candidate candidate(String id, int port, List<String> command) {
        return new Candidate(id, id, new Address("127.0.0.1", port, ""),
                Optional.of(new Launch(command, ".", Map.of(), Optional.of("0"), Duration.ofSeconds(60),
                        Duration.ofSeconds(5))),
                "/health", Optional.of(new Candidate.ControlCall("POST", "/admin/reset")),
                Optional.of("/admin/version"));
    }

    private static MeasuredStudy study(int seconds, Candidate... candidates) {
        var call = Call.of("one-berth", "GET", "/berths/{{berth}}");
        var load = new LoadProfile.Open(40, LoadProfile.Spacing.CONSTANT, 8, Duration.ofSeconds(1),
                Duration.ofSeconds(seconds), Duration.ofSeconds(5));
        return new MeasuredStudy("s", new Question("?", candidates[0].id(), 0.05,
                List.of(new Question.Decider(Metric.P99, 0.1))), List.of(candidates),
                new Workload(List.of(new ValueList.NumberRange("berth", 1, 2400)),
                        List.of(new Visit("v", 1, List.of(call)))),
                load, new Plan(1, 3, Duration.ZERO)).withJudgement(Quiet.notAskedFor());
    }

    private List<RunRecord> run(MeasuredStudy study, CampaignListener listener, int rounds) {
        Allow.all(study, folder);
        return new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(), listener).run(rounds);
    }

    private List<RunRecord> run(MeasuredStudy study) {
        return run(study, mock(CampaignListener.class), 1);
    }

    @Test
    void aRoundMeasuresEveryCandidateFromLaunchToStop() throws IOException {
        MeasuredStudy study = study(2, standIn("loop", Ports.free()), standIn("virtual", Ports.free()));
        CampaignListener listener = mock(CampaignListener.class);
        List<RunRecord> made = run(study, listener, 1);

        assertThat(made).hasSize(2).allSatisfy(run -> {
            assertThat(run.outcome()).as(run.reason()).isEqualTo(RunOutcome.COMPLETE);
            assertThat(run.figures().orElseThrow().good()).isEqualTo(80);
            assertThat(run.figures().orElseThrow().cpuMillis()).isPresent();
            assertThat(run.figures().orElseThrow().peakMemory().orElseThrow()).isGreaterThan(20e6);
            assertThat(run.fingerprint()).containsEntry("server", "berth-board-" + run.candidate())
                    .containsKeys("version", "executable", "command");
            assertThat(run.machine()).containsKeys("cpu", "os", "memory");
            assertThat(run.processes().candidatePid()).isPositive();
            assertThat(ProcessHandle.of(run.processes().candidatePid())).as("it was stopped").isEmpty();
        });
        assertThat(made.get(0).stream()).as("both were sent the same").isEqualTo(made.get(1).stream());
        assertThat(made.get(1).soundness()).anySatisfy(finding -> {
            assertThat(finding.rule()).isEqualTo("stream digest");
            assertThat(finding.ok()).isTrue();
        });
        assertThat(made.stream().map(RunRecord::candidate)).containsExactlyElementsOf(
                Rounds.order(List.of("loop", "virtual"), 3, 1));
        assertThat(store.seconds).isGreaterThanOrEqualTo(6);
        assertThat(OpenRun.of(study, store.runs(), 1)).isEmpty();
        assertThat(OpenRun.firstOpenRound(study, store.runs())).isEqualTo(2);
        InOrder order = inOrder(listener);
        order.verify(listener).runBegins(any(), eq(1), eq(2), any());
        order.verify(listener).step(any(), eq(Step.Plain.LAUNCHING));
        order.verify(listener).step(any(), eq(Step.Plain.RESETTING));
        order.verify(listener).step(any(), eq(Step.Plain.MEASURING));
        order.verify(listener).runEnds(any(), eq(1), anyInt(), any());
    }

    @Test
    void aCandidateThatCannotBeStartedFailsAndTheOthersAreMeasured() throws IOException {
        MeasuredStudy study = study(1, candidate("nobody", Ports.free(), List.of("no-such-program-here")),
                candidate("quits", Ports.free(), List.of("sh", "-c", "echo out of berths >&2; exit 3")));
        List<RunRecord> made = run(study);
        assertThat(made).hasSize(2);
        assertThat(made).anySatisfy(run -> {
            assertThat(run.outcome()).as("the study's fault").isEqualTo(RunOutcome.FAILED);
            assertThat(run.reason()).isEqualTo("its program no-such-program-here is not there or may not be executed");
        });
        assertThat(made).anySatisfy(run -> {
            assertThat(run.outcome()).as("the candidate's own").isEqualTo(RunOutcome.DID_NOT_START);
            assertThat(run.reason()).isEqualTo("it ended with exit code 3 before its ready probe answered");
            assertThat(run.lastOutput()).containsExactly("out of berths");
        });
        assertThat(OpenRun.of(study, store.runs(), 1)).extracting(task -> task.candidate().id())
                .as("what could not be prepared is made again, a result is not").containsExactly("nobody");
    }

    /** A campaign whose every run fails for the same reason ends, and says so. */
    @Test
    void whatFailsForOneReasonIsNotTriedForEver() throws IOException {
        MeasuredStudy study = study(1, candidate("nobody", Ports.free(), List.of("no-such-program-here")));
        Allow.all(study, folder);
        var campaign = new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(),
                mock(CampaignListener.class));
        assertThat(campaign.run(40)).hasSizeLessThan(5);
        assertThat(campaign.gaveUp()).hasValueSatisfying(why -> assertThat(why).contains("no-such-program-here"));
    }

    /** One candidate that answers its probe with a page of its own keeps none of the others' runs from counting, and is not asked for ever. */
    @Test
    void aCandidateThatFailsTwiceAlikeEndsTheCampaignAndSaysWhatCame() throws IOException {
        try (SqlService service = SqlService.onPool(0).start()) {
            Candidate closed = new Candidate("closed", "Closed board", new Address("127.0.0.1", service.port(), ""),
                    Optional.empty(), "/nowhere", Optional.empty(), Optional.empty());
            MeasuredStudy study = study(1, standIn("loop", Ports.free()), closed);
            Allow.all(study, folder);
            var campaign = new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(),
                    mock(CampaignListener.class));
            List<RunRecord> made = campaign.run(12);
            assertThat(made.stream().filter(run -> run.candidate().equals("closed"))).hasSize(2);
            assertThat(made).hasSizeLessThanOrEqualTo(4);
            assertThat(campaign.gaveUp()).hasValueSatisfying(why -> assertThat(why).startsWith("Closed board: ")
                    .contains("status 404 and application/json: {\"error\""));
        }
    }

    private static Candidate resetting(Candidate candidate, String... command) {
        return new Candidate(candidate.id(), candidate.name(), candidate.address(), candidate.launch(),
                candidate.ready(), Optional.of(new Candidate.ControlCommand(List.of(command))), Optional.empty());
    }

    @Test
    void aCommandMayResetACandidate() throws IOException {
        RunRecord good = run(study(1, resetting(standIn("loop", Ports.free()), "sh", "-c", "echo done > reset.txt")))
                .getFirst();
        assertThat(good.outcome()).as(good.reason()).isEqualTo(RunOutcome.COMPLETE);
        assertThat(folder.resolve("reset.txt")).exists();
        assertThat(good.fingerprint()).containsKeys("jvm", "jvm-flags").containsEntry("protocol", "HTTP/1.1");
        store.records.clear();
        RunRecord bad = run(study(1, resetting(standIn("loop", Ports.free()), "sh", "-c", "echo no table; exit 4")))
                .getFirst();
        assertThat(bad.outcome()).isEqualTo(RunOutcome.FAILED);
        assertThat(bad.reason()).contains("ended with exit code 4: no table");
    }

    @Test
    void aHostBeyondThisMachineIsNotLoadedWithoutConsent() {
        Candidate far = new Candidate("far", "far", new Address("board.example", 80, ""), Optional.empty(), "/",
                Optional.empty(), Optional.empty());
        RunRecord run = new Campaign(study(1, far), folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(),
                mock(CampaignListener.class)).run(1).getFirst();
        assertThat(run.outcome()).isEqualTo(RunOutcome.FAILED);
        assertThat(run.reason()).contains("you have not said yet that this study may do it")
                .contains("far, load: http://board.example");
    }

    @Test
    void aPortInUseIsSaidBeforeAnythingIsStarted() throws IOException {
        try (var taken = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            RunRecord run = run(study(1, standIn("loop", taken.getLocalPort()))).getFirst();
            assertThat(run.outcome()).isEqualTo(RunOutcome.FAILED);
            assertThat(run.reason()).contains("port " + taken.getLocalPort()).contains("already in use");
            assertThat(run.processes().candidatePid()).isZero();
        }
    }

    @Test
    void aCandidateThatDiesUnderLoadIsAResultWithItsLastWords() throws IOException {
        MeasuredStudy study = study(30, standIn("loop", Ports.free()));
        CampaignListener killer = mock(CampaignListener.class);
        org.mockito.Mockito.doAnswer(_ -> {
            store.runs().forEach(run -> ProcessHandle.of(run.processes().candidatePid())
                    .ifPresent(ProcessHandle::destroyForcibly));
            return null;
        }).when(killer).second(any(), any());
        RunRecord run = run(study, killer, 1).getFirst();
        assertThat(run.outcome()).isEqualTo(RunOutcome.DIED);
        assertThat(OpenRun.of(study, store.runs(), 1)).as("it is not made again until it survives").isEmpty();
        assertThat(run.reason()).isEqualTo("it ended by signal 9 during the load");
        assertThat(run.lastOutput()).anySatisfy(line -> assertThat(line).contains("berth-board-loop answers"));
    }

    @Test
    void aStoppedCampaignKeepsWhatItMeasuredAndGoesOnLater() throws Exception {
        MeasuredStudy study = study(20, standIn("loop", Ports.free()));
        var measuring = new CountDownLatch(1);
        var listener = mock(CampaignListener.class);
        org.mockito.Mockito.doAnswer(_ -> {
            measuring.countDown();
            return null;
        }).when(listener).second(any(), any(SecondSummary.class));
        Allow.all(study, folder);
        var campaign = new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(), listener);
        var made = new ArrayList<RunRecord>();
        Thread worker = Thread.ofPlatform().start(() -> made.addAll(campaign.run(1)));
        assertThat(measuring.await(60, TimeUnit.SECONDS)).isTrue();
        campaign.stop();
        worker.join(30_000);
        assertThat(made).singleElement().satisfies(run -> {
            assertThat(run.outcome()).isEqualTo(RunOutcome.STOPPED);
            assertThat(ProcessHandle.of(run.processes().candidatePid())).isEmpty();
        });
        assertThat(OpenRun.of(study, store.runs(), 1)).hasSize(1);
    }

    /** Runs a campaign beside the test. */
    private Thread begin(Campaign campaign, List<RunRecord> made, int rounds) {
        return Thread.ofPlatform().start(() -> made.addAll(campaign.run(rounds)));
    }

    @Test
    void runsAreSkippedMadeAgainAndAddedToByHand() throws Exception {
        MeasuredStudy study = study(3, standIn("loop", Ports.free()));
        Allow.all(study, folder);
        var seen = new java.util.concurrent.LinkedBlockingQueue<RunRecord>();
        var ended = new java.util.concurrent.LinkedBlockingQueue<RunRecord>();
        var listener = mock(CampaignListener.class);
        org.mockito.Mockito.doAnswer(call -> seen.add(call.getArgument(0))).when(listener).second(any(),
                any(SecondSummary.class));
        org.mockito.Mockito.doAnswer(call -> ended.add(call.getArgument(0))).when(listener).runEnds(any(), anyInt(),
                anyInt(), any());
        var campaign = new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(), listener);
        var made = new ArrayList<RunRecord>();
        Thread worker = begin(campaign, made, 1);
        String first = seen.poll(60, TimeUnit.SECONDS).id();
        campaign.redo();
        assertThat(ended.poll(60, TimeUnit.SECONDS)).satisfies(run -> {
            assertThat(run.outcome()).isEqualTo(RunOutcome.STOPPED);
            assertThat(run.reason()).isEqualTo("given up by hand, to be made again");
        });
        RunRecord again = seen.poll(60, TimeUnit.SECONDS);
        while (again != null && again.id().equals(first)) {
            again = seen.poll(60, TimeUnit.SECONDS);
        }
        assertThat(again).as("the run that is made again").isNotNull();
        assertThat(again.round()).isEqualTo(1);
        campaign.addRounds(1);
        campaign.hold(true);
        campaign.skip();
        assertThat(ended.poll(60, TimeUnit.SECONDS).reason()).isEqualTo("skipped by hand");
        seen.clear();
        assertThat(seen.poll(1, TimeUnit.SECONDS)).as("it waits").isNull();
        campaign.skip();
        assertThat(seen.poll(1, TimeUnit.SECONDS)).as("there is no run to skip, and it waits on").isNull();
        campaign.hold(false);
        worker.join(60_000);
        assertThat(made).extracting(RunRecord::outcome).containsExactly(RunOutcome.STOPPED, RunOutcome.STOPPED,
                RunOutcome.COMPLETE);
        assertThat(made.getLast().round()).as("the round that was added").isEqualTo(2);
        assertThat(OpenRun.of(study, store.runs(), 2)).as("what was skipped is still to be made").hasSize(1);
    }

    @Test
    void theHostsAreWatchedFromTheIdleStretchOnAndASilentSourceEndsNothing() throws Exception {
        Candidate plain = standIn("loop", Ports.free());
        var watched = new Candidate(plain.id(), plain.name(), plain.address(), plain.launch(), plain.ready(),
                plain.reset(), plain.version(), plain.access(),
                List.of(new WatchSource.MetricsEndpoint("nobody", "http://127.0.0.1:" + Ports.free() + "/metrics",
                        List.of(new WatchSource.MetricsEndpoint.Choice("a", "", "custom")))));
        MeasuredStudy one = study(2, watched);
        var study = new MeasuredStudy(one.name(), one.question(), one.candidates(), one.workload(), one.load(),
                new Plan(1, 3, Duration.ZERO, Duration.ofSeconds(2), false));
        RunRecord run = run(study).getFirst();
        assertThat(run.outcome()).as(run.reason()).isEqualTo(RunOutcome.COMPLETE);
        WatchView watch = store.watch.get(run.id()).build();
        assertThat(watch.courses()).extracting(course -> course.series().words()).contains("this host: CPU",
                "candidate: CPU", "candidate: memory");
        assertThat(watch.courses()).filteredOn(course -> course.series().words().equals("candidate: memory"))
                .singleElement().satisfies(course -> {
                    assertThat(course.between(-10, 0)).hasSizeGreaterThanOrEqualTo(2);
                    assertThat(course.between(0, 10)).hasSizeGreaterThanOrEqualTo(2);
                });
        assertThat(watch.troubles().get("nobody").getFirst().reason()).contains("does not answer");
        assertThat(run.watch()).filteredOn(source -> source.name().equals("nobody")).singleElement()
                .satisfies(source -> assertThat(source.troubles()).isNotEmpty());
    }

    @Test
    void whatAKilledKadremLeftBehindIsFoundAndEnded() throws Exception {
        Process orphan = new ProcessBuilder("sh", "-c", "sleep 300 & wait").start();
        Process marked;
        var builder = new ProcessBuilder("sleep", "300");
        builder.environment().put(CandidateProcess.RUN_VARIABLE, "cut1");
        marked = builder.start();
        Process innocent = new ProcessBuilder("sleep", "300").start();
        try {
            var processes = new RunRecord.Processes(999_999_999L, 1, orphan.pid(),
                    CandidateProcess.started(orphan.toHandle()));
            store.replace(running("cut1", processes));
            List<RunRecord> cut = Leftovers.clear(store, Clock.systemUTC().instant());
            assertThat(cut).singleElement()
                    .satisfies(run -> assertThat(run.outcome()).isEqualTo(RunOutcome.CUT_OFF));
            assertThat(orphan.waitFor(10, TimeUnit.SECONDS)).isTrue();
            assertThat(marked.waitFor(10, TimeUnit.SECONDS)).isTrue();
            assertThat(innocent.isAlive()).isTrue();
            assertThat(Leftovers.clear(store, Clock.systemUTC().instant())).isEmpty();
        } finally {
            orphan.destroyForcibly();
            marked.destroyForcibly();
            innocent.destroyForcibly();
        }
    }

    @Test
    void aRunOfAnotherLivingKadremIsLeftAlone() {
        ProcessHandle self = ProcessHandle.current();
        store.replace(running("live", new RunRecord.Processes(self.pid(), CandidateProcess.started(self), 0, 0)));
        assertThat(Leftovers.clear(store, Clock.systemUTC().instant())).isEmpty();
    }

    private static RunRecord running(String id, RunRecord.Processes processes) {
        return RunRecord.begun(new RunIdentity(id, 1, "loop", 1, 1, "d", Clock.systemUTC().instant(), Map.of(),
                Optional.empty()), processes);
    }
}
