package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

import kadrem.core.examine.Demand;
import kadrem.core.examine.Moved;
import kadrem.core.examine.Occurrence;
import kadrem.core.examine.Occurrences;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.WatchedSource;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Agreement;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Judgement;
import kadrem.core.study.Launch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Visit;
import kadrem.core.study.WatchSource;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.load.gate.Allow;
import kadrem.load.generator.LocalLoad;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Isolated;
import org.mockito.Mockito;

/**
 * Four services, each with one trouble, measured with their virtual machines watched: the sentences and what moved name the
 * right thing in each. The one that uses up its processor is measured by itself, the others at the same time.
 */
@Isolated
class TroublesTest {
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();
    private static final int WARM_UP = 2;
    private static final int MEASURED = 11;
    /** Arrivals a second that show each trouble, and more than a core can answer where each takes work. */
    private static final double ENOUGH = 100;
    private static final double TOO_MANY = 250;
    /** What waits when a run ends is waited for as long. */
    private static final int PATIENCE = 5;
    private static final int MAX_TRIES = 3;

    @TempDir
    private Path folder;
    private final MemoryStore store = new MemoryStore();

    private static Candidate troubled(String kind) {
        int port = Ports.free();
        var launch = new Launch(List.of(JAVA, "-XX:TieredStopAtLevel=1", "-XX:+UseSerialGC", "-Xms32m", "-cp",
                System.getProperty("java.class.path"), "kadrem.standins.Main", kind, "--port", "{{port}}"), ".",
                Map.of(), Optional.of(kind.equals("busy") ? "1" : "0"), Duration.ofSeconds(60), Duration.ofSeconds(5));
        return new Candidate(kind, kind, new Address("127.0.0.1", port, ""), Optional.of(launch), "/health",
                Optional.empty(), Optional.empty(), Access.OPEN,
                List.of(new WatchSource.JavaMachine("jvm", Optional.empty())));
    }

    private record Seen(RunRecord run, List<String> sentences, List<Moved> moved) {
        /** Whether the virtual machine told of its rest. */
        boolean isWatched() {
            return moved.stream().anyMatch(one -> one.series().source().equals("jvm"))
                    && moved.stream().allMatch(Moved::isScored);
        }

        Moved moved(String source, String series) {
            return moved.stream().filter(one -> one.series().source().equals(source)
                    && one.series().name().equals(series)).findFirst().orElseThrow();
        }
    }

    private Seen seen(RunRecord run) {
        List<SecondSummary> seconds = store.summaries.get(run.id());
        WatchView watch = store.watch.get(run.id()).build();
        return new Seen(run, Occurrences.of(seconds, watch, new Occurrences.Frame(WARM_UP, true, 1)).stream()
                .filter(one -> one.weight() == Occurrence.Weight.CANDIDATE).map(Occurrence::sentence).toList(),
                Moved.rank(watch, seconds, WARM_UP, WARM_UP + MEASURED));
    }

    /**
     * Runs in which the virtual machines were watched from the idle stretch on. Where the host was so busy that attaching to
     * them took that long, they are measured again.
     */
    private Map<String, Seen> watched(double rate, String... kinds) throws IOException {
        var seen = new HashMap<String, Seen>();
        for (int i = 0; i < MAX_TRIES && (seen.isEmpty() || !seen.values().stream().allMatch(Seen::isWatched)); i++) {
            seen.clear();
            // a run that was made is not made again
            store.records.clear();
            measured(rate, kinds).forEach(run -> seen.put(run.candidate(), seen(run)));
        }
        return seen;
    }

    /** @param rate arrivals a second */
    private List<RunRecord> measured(double rate, String... kinds) throws IOException {
        List<Candidate> candidates = Stream.of(kinds).map(TroublesTest::troubled).toList();
        var load = new LoadProfile.Open(rate, LoadProfile.Spacing.CONSTANT, 48, Duration.ofSeconds(WARM_UP),
                Duration.ofSeconds(MEASURED), Duration.ofSeconds(PATIENCE));
        var study = new MeasuredStudy("troubles", new Question("?", kinds[0], 0.05,
                List.of(new Question.Decider(Metric.P99, 0.1))), candidates,
                new Workload(List.of(), List.of(new Visit("v", 1, List.of(Call.of("c", "GET", "/berths"))))), load,
                new Plan(1, 3, Duration.ZERO, Duration.ofSeconds(6), true), Agreement.EXACT, List.of(),
                Judgement.USUAL);
        Allow.all(study, folder);
        List<RunRecord> made = new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(),
                Mockito.mock(CampaignListener.class)).run(1);
        assertThat(made).allSatisfy(run -> assertThat(run.outcome()).as(run.reason()).isEqualTo(RunOutcome.COMPLETE));
        return made;
    }

    @Test
    void sentencesAndWhatMovedNameTheRightThing() throws IOException {
        Map<String, Seen> all = new HashMap<>(watched(TOO_MANY, "busy"));
        all.putAll(watched(ENOUGH, "leak", "lock", "dependency"));

        Seen leak = all.get("leak");
        assertThat(leak.sentences()).as("leak").anyMatch(one -> one.contains("grows all the time"));
        assertThat(leak.moved("jvm", "heap in use").departs()).isTrue();
        assertThat(leak.moved("candidate", "memory").departs()).isTrue();
        assertThat(leak.sentences()).noneMatch(one -> one.contains("lock") || one.contains("another service"));

        Seen busy = all.get("busy");
        assertThat(busy.sentences()).as("busy").anyMatch(one -> one.contains("the candidate's CPU reached"))
                .noneMatch(one -> one.contains("grows") || one.contains("another service") || one.contains("lock"));
        assertThat(busy.moved("candidate", "CPU").departs()).isTrue();
        double throughput = busy.run().figures().orElseThrow().throughput();
        assertThat(Demand.of(busy.moved(), throughput, 1, Runtime.getRuntime().availableProcessors()).getFirst())
                .satisfies(first -> {
                    assertThat(first.series().role()).isEqualTo(kadrem.core.measure.SeriesRole.CPU);
                    // by the utilisation law a core that is all used up ends where the throughput ends
                    assertThat(first.saturation()).isBetween(throughput * 0.8, throughput * 1.3);
                });

        Seen lock = all.get("lock");
        assertThat(lock.sentences()).as("lock").anyMatch(one -> one.contains("wait for a lock"))
                .noneMatch(one -> one.contains("grows") || one.contains("CPU reached"));
        assertThat(lock.moved("jvm", "threads that wait for a lock").departs()).isTrue();

        Seen dependency = all.get("dependency");
        assertThat(dependency.sentences()).as("dependency").anyMatch(one -> one.contains("waits for another service"))
                .noneMatch(one -> one.contains("grows") || one.contains("CPU reached") || one.contains("a lock"));
        assertThat(dependency.moved("jvm", "threads that read from a connection").departs()).isTrue();

        assertThat(leak.run().watch()).extracting(WatchedSource::name).containsExactly("this host", "candidate", "jvm");
        assertThat(all.values()).allSatisfy(one -> assertThat(one.run().watch()).allSatisfy(
                source -> assertThat(source.readings()).isGreaterThan(10)));
    }
}
