package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

import kadrem.core.proposal.Probe;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.StatusSet;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.fixtures.Answering;
import kadrem.fixtures.Ports;
import kadrem.load.gate.Allow;
import kadrem.load.generator.GeneratorProcess;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Isolated;

/** Services of which it is known what they can take are probed by the real generator. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
@Isolated
class ProbingTest {
    @TempDir
    private Path folder;
    private final List<String> steps = new ArrayList<>();

    private static Candidate at(String id, int port) {
        return new Candidate(id, id, new Address("127.0.0.1", port, ""), Optional.empty(), "/", Optional.empty(),
                Optional.empty());
    }

    private static int port(Answering service) {
        return URI.create(service.address()).getPort();
    }

    private List<Probe> probe(Call call, Candidate... candidates) throws Exception {
        var load = new LoadProfile.Open(10, LoadProfile.Spacing.CONSTANT, 4, Duration.ZERO, Duration.ofSeconds(1),
                Duration.ofSeconds(5));
        var study = new MeasuredStudy("s",
                new Question("?", candidates[0].id(), 0.05, List.of(new Question.Decider(Metric.P50, 0.1))),
                List.of(candidates), new Workload(List.of(), List.of(new Visit("look", 1, List.of(call)))), load,
                new Plan(6, 3, Duration.ZERO));
        Allow.all(study, folder);
        try (var generator = new GeneratorProcess()) {
            return new Probing(study, folder, "kadrem", generator, _ -> false,
                    (candidate, step) -> steps.add(candidate.id() + " " + step.words())).run();
        }
    }

    private static Probe.Step step(int users, double callsPerSecond, double errorShare) {
        return new Probe.Step(users, callsPerSecond, 1e6, errorShare);
    }

    @Test
    void moreUsersAreNotTriedWhereTheyOnlyWaitForEachOtherFailOrAreEnough() {
        assertThat(Probing.isWorthMore(List.of(step(1, 100, 0)))).isTrue();
        assertThat(Probing.isWorthMore(List.of(step(1, 100, 0), step(2, 190, 0)))).isTrue();
        assertThat(Probing.isWorthMore(List.of(step(1, 100, 0), step(2, 105, 0)))).as("they wait").isFalse();
        assertThat(Probing.isWorthMore(List.of(step(1, 100, 0), step(2, 190, 0.02)))).as("they fail").isFalse();
        assertThat(Probing.isWorthMore(List.of(step(1, 0, 1)))).as("nothing comes").isFalse();
        assertThat(Probing.isWorthMore(List.of(step(1, 6_000, 0)))).as("enough").isFalse();
    }

    /** One thread that takes 10 ms for an answer gives 100 a second at most, however many wait for it: the utilisation law (Jain 1991, chapter 33). */
    @Test
    void noMoreIsSeenThanAServiceCanDo() throws Exception {
        try (Answering busy = Answering.busy(Duration.ofMillis(10), Map.of(), "berth")) {
            Probe probe = probe(Call.of("look", "GET", "/berths/7"), at("a", port(busy))).getFirst();
            assertThat(probe.problem()).isEmpty();
            // other tests may take the processors away, but nothing makes the service faster
            assertThat(probe.best().orElseThrow().callsPerSecond()).isBetween(10.0, 101.0);
            assertThat(probe.steps()).extracting(Probe.Step::users).startsWith(1, 2);
            assertThat(probe.steps().get(1).p50Nanos()).as("two wait for one").isGreaterThan(15e6);
            assertThat(steps).startsWith("a warming up", "a measuring at 1 user", "a measuring at 2 users");
        }
    }

    @Test
    void callsThatFailEndItAtOnce() throws Exception {
        try (Answering service = Answering.with(Map.of(), "berth")) {
            Probe probe = probe(Call.of("look", "GET", "/berths/7").expecting(StatusSet.of(201)),
                    at("a", port(service))).getFirst();
            assertThat(probe.steps()).hasSize(1);
            assertThat(probe.best()).isEmpty();
        }
    }

    @Test
    void aCandidateThatIsNotThereIsToldAndTheOtherIsProbed() throws Exception {
        try (Answering service = Answering.busy(Duration.ofMillis(20), Map.of(), "berth")) {
            List<Probe> probes = probe(Call.of("look", "GET", "/berths/7"), at("gone", Ports.free()),
                    at("there", port(service)));
            assertThat(probes.getFirst().problem()).contains("does not answer");
            assertThat(probes.getFirst().best()).isEmpty();
            assertThat(probes.getLast().best()).isPresent();
        }
    }
}
