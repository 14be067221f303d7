package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.Address;
import kadrem.core.study.Agreement;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.StatusSet;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.load.gate.Allow;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Rehearsals with the real stand-ins. */
class RehearsingTest {
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();
    @TempDir
    private Path folder;
    private final List<String> steps = new ArrayList<>();

    private static Candidate standIn(String id, String name, String basePath) throws IOException {
        int port = Ports.free();
        return new Candidate(id, id, new Address("127.0.0.1", port, basePath),
                Optional.of(new Launch(List.of(JAVA, "-XX:TieredStopAtLevel=1", "-cp",
                        System.getProperty("java.class.path"), "kadrem.standins.Main", name, "--port", "{{port}}"), ".",
                        Map.of(), Optional.empty(), Duration.ofSeconds(60), Duration.ofSeconds(5))),
                "/health", Optional.of(new Candidate.ControlCall("POST", "/admin/reset")), Optional.empty());
    }

    private static MeasuredStudy study(List<Call> calls, Candidate... candidates) {
        var load = new LoadProfile.Open(10, LoadProfile.Spacing.CONSTANT, 4, Duration.ZERO, Duration.ofSeconds(1),
                Duration.ofSeconds(20));
        return new MeasuredStudy("s",
                new Question("?", candidates[0].id(), 0.05, List.of(new Question.Decider(Metric.P50, 0.1))),
                List.of(candidates), new Workload(List.of(new ValueList.NumberRange("berth", 1, 2400)),
                        List.of(new Visit("look", 1, calls))),
                load, new Plan(6, 3, Duration.ZERO));
    }

    private Rehearsal rehearse(MeasuredStudy study) throws Exception {
        Allow.all(study, folder);
        return new Rehearsing(study, folder, "kadrem", Clock.systemUTC(), _ -> false,
                (candidate, step) -> steps.add(candidate.id() + " " + step.words())).run();
    }

    @Test
    void standInsAnswerAlike() throws Exception {
        Call reserve = Call.of("reserve", "POST", "/reservations").withBody(
                "{\"berth\":{{berth}},\"day\":\"2026-12-24\",\"nights\":1,\"vessel\":\"Tern\"}")
                .expecting(StatusSet.of(201, 409));
        MeasuredStudy study = study(List.of(Call.of("berth", "GET", "/berths/{{berth}}"), reserve),
                standIn("a", "virtual", ""), standIn("b", "loop", ""));
        Rehearsal rehearsal = rehearse(study);
        assertThat(rehearsal.differences()).isEmpty();
        assertThat(rehearsal.agrees(Agreement.EXACT)).isTrue();
        assertThat(steps).containsExactly("a launching", "a resetting", "a rehearsing", "b launching",
                "b resetting", "b rehearsing");
        RehearsedCall call = rehearsal.candidates().getFirst().calls().getFirst();
        assertThat(call.status()).isEqualTo(200);
        assertThat(call.request()).startsWith("GET /berths/").contains("\r\nHost: 127.0.0.1:");
        assertThat(new String(call.decoded().toArray())).contains("\"quay\"");
        assertThat(call.header("content-type")).isEqualTo("application/json");
        assertThat(call.timeline().connect()).isPositive();
        assertThat(call.timeline().waiting()).isPositive();
        assertThat(call.bytesIn()).isGreaterThan(call.body().size());
        assertThat(rehearsal.candidates().getFirst().calls().get(1).timeline().connect()).as("kept alive").isZero();
    }

    @Test
    void differencesAndFailuresAreTold() throws Exception {
        Candidate wrong = standIn("b", "loop", "/nothing-here");
        MeasuredStudy study = study(List.of(Call.of("berth", "GET", "/berths/{{berth}}")), standIn("a", "loop", ""),
                new Candidate("b", "b", wrong.address(), wrong.launch().map(launch -> new Launch(launch.command(), ".",
                        Map.of(), Optional.empty(), Duration.ofMillis(1500), Duration.ofSeconds(5))), "/health",
                        Optional.empty(), Optional.empty()));
        Rehearsal rehearsal = rehearse(study);
        assertThat(rehearsal.candidates().get(1).problem()).contains("ready probe").contains("did not answer");
        assertThat(rehearsal.agrees(Agreement.EXACT)).isFalse();

        MeasuredStudy missing = study(
                List.of(Call.of("berth", "GET", "/berths/{{berth}}"), Call.of("none", "GET", "/none")),
                standIn("a", "loop", ""));
        RehearsedCall none = rehearse(missing).candidates().getFirst().calls().get(1);
        assertThat(none.failure()).hasValue(FailureKind.UNEXPECTED_STATUS);
        assertThat(none.detail()).isEqualTo("status 404, and not 2xx");
    }

    @Test
    void aCandidateThatIsNotThereIsToldAndTheOthersAreRehearsed() throws Exception {
        Candidate gone = new Candidate("gone", "gone", new Address("127.0.0.1", 1, ""), Optional.empty(), "/health",
                Optional.empty(), Optional.empty());
        Rehearsal rehearsal = rehearse(
                study(List.of(Call.of("berth", "GET", "/berths/{{berth}}")), gone, standIn("b", "loop", "")));
        assertThat(rehearsal.candidates().getFirst().problem()).contains("does not answer");
        assertThat(rehearsal.candidates().get(1).isGood()).isTrue();
        Call secret = Call.of("c", "GET", "/x").withHeaders(List.of(new Call.Header("X", "{{env:NOT_SET_ANYWHERE}}")));
        assertThat(rehearse(study(List.of(secret), standIn("b", "loop", ""))).candidates().getFirst().problem())
                .contains("NOT_SET_ANYWHERE is not set");
    }
}
