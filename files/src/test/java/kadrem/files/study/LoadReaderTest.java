package kadrem.files.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

import kadrem.core.plan.LoadDigest;
import kadrem.core.study.Judgement;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Requirement;
import kadrem.core.study.Segment;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.StopRule;
import kadrem.core.study.Study;
import kadrem.core.study.Wire;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Load profiles, searches, stop rules, requirements, wires and limits of soundness in a study file. */
class LoadReaderTest {
    @TempDir
    private Path folder;

    private StudyFile file(String load, String more) throws IOException, StudyException {
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: s
                question: {text: Which, decide: [{metric: p50}], require: [{metric: p99, limit: 250ms}]}
                candidates:
                  - {id: a, address: "http://127.0.0.1:81"}
                workload: {visits: [{name: v, calls: [{name: c, path: /x}]}]}
                load: {%s}
                %s
                """.formatted(load, more));
        return StudyFile.read(folder);
    }

    private LoadProfile load(String fields) throws IOException, StudyException {
        return file(fields, "").measured().load();
    }

    private static Duration s(long seconds) {
        return Duration.ofSeconds(seconds);
    }

    @Test
    void segmentsAreReadInTheirOrder() throws Exception {
        LoadProfile.Single load = load(
                "model: closed, thinkTime: 1s, warmUp: 2s, warmUpLevel: 5, windDown: 4s, segments: ["
                        + "{ramp: 15s, to: 100}, {hold: 30s}, {step: 20s, to: 160}, {burst: 5s, at: 300}, {hold: 5s},"
                        + " {step: 9s, to: 10, stairs: 3}]")
                .single().orElseThrow();
        assertThat(load.shape().segments()).containsExactly(Segment.ramp(s(15), 100), Segment.hold(s(30), 100),
                Segment.step(s(20), 160, 4), Segment.burst(s(5), 300), Segment.hold(s(5), 160),
                Segment.step(s(9), 10, 3));
        assertThat(load.course().windDown()).isEqualTo(s(4));
        assertThat(load.course().warmUpLevel()).hasValue(5);
    }

    @Test
    void oneSegmentThatIsHeldIsTheSameLoadAsALevel() throws Exception {
        MeasuredStudy segment = file("model: open, segments: [{hold: 20s, at: 50}]", "").measured();
        MeasuredStudy level = file("model: open, arrivalsPerSecond: 50, measured: 20s", "").measured();
        assertThat(segment.load()).isEqualTo(level.load());
        assertThat(LoadDigest.of(segment)).isEqualTo(LoadDigest.of(level));
    }

    @Test
    void paceAndANumberOfVisits() throws Exception {
        var paced = (LoadProfile.Closed) load("model: closed, users: 4, pace: 2500ms, measured: 10s");
        assertThat(paced.pace()).contains(Duration.ofMillis(2500));
        LoadProfile counted = load("model: closed, users: 5, visits: 10");
        assertThat(counted.course().visits()).hasValue(10);
        assertThat(counted.measured()).as("the longest time").isEqualTo(Duration.ofMinutes(10));
    }

    @Test
    void searchesAndStopRules() throws Exception {
        assertThat(load("model: closed, measured: 10s, ladder: {from: 4}").course().search())
                .contains(new LevelSearch.Ladder(4, 2, 0, 12, 0.05));
        assertThat(load("model: closed, measured: 10s, ladder: {from: 10, by: 15, most: 5, gain: 1%}").course()
                .search()).contains(new LevelSearch.Ladder(10, 1, 15, 5, 0.01));
        assertThat(load("model: open, measured: 10s, ceiling: {from: 100, to: 5000, precision: 2%}").course().search())
                .contains(new LevelSearch.Ceiling(100, 5000, 0.02, 12));
        assertThat(load("model: open, arrivalsPerSecond: 5, measured: 5s, stopWhen: [{metric: error-share, over: 5%,"
                + " for: 15s}, {metric: p95, over: 2s, for: 20s, then: end}]").course().stopRules()).containsExactly(
                        new StopRule(Metric.ERROR_SHARE, 0.05, s(15), false),
                        new StopRule(Metric.P95, 2e9, s(20), true));
    }

    @Test
    void requirementsLimitsAndRunsTakenIn() throws Exception {
        Study study = file("model: open, arrivalsPerSecond: 5, measured: 5s", "soundness: {limits: {late: 10%,"
                + " drift: 20%, tail-support: 30, warm-up: 9s}, takenIn: [{run: a1b2c3d4, reason: a burst at its start}]}")
                .study();
        assertThat(study.question().requirements()).containsExactly(new Requirement(Metric.P99, 250e6));
        assertThat(study.judgement().limits()).containsEntry(SoundnessRule.LATE, 0.1)
                .containsEntry(SoundnessRule.DRIFT, 0.2).containsEntry(SoundnessRule.TAIL_SUPPORT, 30.0)
                .containsEntry(SoundnessRule.WARM_UP, 9.0);
        assertThat(study.judgement().takenIn())
                .containsExactly(new Judgement.TakenIn("a1b2c3d4", "a burst at its start"));
    }

    @Test
    void theWireOfTheStudyHoldsUnlessACandidateHasItsOwn() throws Exception {
        Files.writeString(folder.resolve("study.yaml"),
                """
                        kadrem: 1
                        name: s
                        question: {text: Which, decide: [{metric: p50}]}
                        wire: {accept: [gzip, br], redirects: 3, cookies: true, trace: 2%}
                        candidates:
                          - {id: a, address: "http://127.0.0.1:81"}
                          - {id: b, address: "http://127.0.0.1:82", wire: {protocol: http/2, streams: 20, cookies: false}}
                          - {id: c, address: "http://127.0.0.1:83", wire: {connections: per-call, resumption: false, pack: true}}
                        workload: {visits: [{name: v, calls: [{name: c, path: /x}]}]}
                        load: {model: open, arrivalsPerSecond: 5, measured: 5s}
                        plan: {order: together}
                        """);
        StudyFile read = StudyFile.read(folder);
        List<Wire> wires = read.study().candidates().stream().map(one -> one.access().wire()).toList();
        assertThat(wires.get(0).words())
                .isEqualTo("accepts gzip br, follows 3 redirects, keeps cookies, traces 2 % of the calls");
        assertThat(wires.get(1).words())
                .isEqualTo("http/2, 20 streams, accepts gzip br, follows 3 redirects, traces 2 % of the calls");
        assertThat(wires.get(2).words()).startsWith("connections per-call, no resumption").contains("packs requests");
        assertThat(wires.get(0).socket()).isEqualTo(Optional.empty());
        assertThat(read.study().plan().together()).isTrue();
        assertThat(read.warnings()).anySatisfy(warning -> assertThat(warning.toString())
                .contains("plan.order is together, but candidates share a host"));
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
            "model: open, segments: [{hold: 5s, at: 1}, {slope: 3s}] | says none of hold, ramp, step, burst",
            "model: open, segments: [{hold: 5s, ramp: 3s, to: 9}] | stands beside",
            "model: open, segments: [{ramp: soon, to: 9}] | load.segments[0].ramp is \"soon\"",
            "model: open, measured: 5s, ladder: {from: 10}, ceiling: {from: 1, to: 9} | stands beside ladder",
            "model: closed, measured: 5s, ceiling: {from: 1, to: 9} | the model is closed",
            "model: closed, measured: 5s, ladder: {from: 10, factor: 1} | Use a number above 1 and up to 1000000",
            "model: closed, measured: 5s, ladder: {from: 10, most: 40} | Use fewer levels",
            "model: open, arrivalsPerSecond: 5, measured: 5s, stopWhen: [{metric: throughput, over: 4}] | Use one of: ",
            "model: open, arrivalsPerSecond: 5, measured: 5s, stopWhen: [{metric: p95, over: 2s, then: stop}] | go-on",
            "model: open, segments: [{ramp: 5s, to: 9}, {hold: 5s}], visits: 9 | A number of visits needs one level"})
    void whatIsWrongIsToldWithItsPlaceAndMend(String load, String message) {
        assertThatThrownBy(() -> file(load, "")).isInstanceOf(StudyException.class).hasMessageContaining(message);
    }

    @Test
    void aWarmUpThatSendsNothingIsToldAsAWarning() throws Exception {
        assertThat(file("model: open, warmUp: 5s, segments: [{ramp: 5s, to: 9}]", "").warnings())
                .anySatisfy(warning -> assertThat(warning.toString()).contains("sends nothing"));
    }
}
