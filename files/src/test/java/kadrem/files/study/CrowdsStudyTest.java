package kadrem.files.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;

import kadrem.core.plan.Curve;
import kadrem.core.plan.LoadDigest;
import kadrem.core.scaling.Prediction;
import kadrem.core.study.Crowd;
import kadrem.core.study.Crowds;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Crowds as a study file says them. */
final class CrowdsStudyTest {
    private static final String READERS = "{name: readers, makes: [browse, look], model: closed, users: 8, thinkTime: 1s, measured: 20s}";
    private static final String IMPORT = "{name: import, makes: bring, model: open, start: 5s,"
            + " segments: [{ramp: 5s, to: 100}, {hold: 4s}]}";

    @TempDir
    private Path folder;

    private MeasuredStudy study(String question, String load) throws IOException, StudyException {
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: crowds
                question: {text: Which, decide: [{metric: p95, of: readers}]%s}
                candidates: [{id: a, address: "http://127.0.0.1:81"}, {id: b, address: "http://127.0.0.1:82"}]
                workload:
                  first: [{name: enter, path: /session}]
                  visits:
                    - {name: browse, calls: [{name: list, path: /berths}, {name: one, path: /berths/1}]}
                    - {name: look, calls: [{name: tide, path: /tides}]}
                    - {name: bring, calls: [{name: arrival, path: /ships}]}
                load: {%s}
                """.formatted(question, load));
        return StudyFile.read(folder).measured();
    }

    private MeasuredStudy both() throws IOException, StudyException {
        return study("", "warmUp: 2s, crowds: [" + READERS + ", " + IMPORT + "]");
    }

    @Test
    void eachCrowdStandsOnTheRunsTimeAxis() throws Exception {
        MeasuredStudy study = both();
        assertThat(study.load()).isInstanceOf(Crowds.class);
        assertThat(study.load().measured()).isEqualTo(Duration.ofSeconds(20));
        assertThat(study.load().total()).isEqualTo(Duration.ofSeconds(22));
        assertThat(study.load().isSteady()).isFalse();
        List<Crowd> crowds = study.load().crowds();
        assertThat(crowds).extracting(Crowd::name).containsExactly("readers", "import");
        assertThat(crowds.getFirst().load()).isInstanceOf(LoadProfile.Closed.class);
        Curve arriving = Curve.of(crowds.getLast().load());
        assertThat(arriving.length()).isEqualTo(22);
        assertThat(arriving.at(6.9)).isZero();
        assertThat(arriving.at(9.5)).as("half way up").isEqualTo(50);
        assertThat(arriving.at(15)).isEqualTo(100);
        assertThat(arriving.at(16.1)).as("it is gone").isZero();
        assertThat(crowds.getLast().length()).isEqualTo(Duration.ofSeconds(9));
        assertThat(study.workload().of(crowds.getLast()).calls()).extracting(call -> call.name())
                .containsExactly("enter", "arrival");
        assertThat(study.workload().numbers(crowds.getLast())).containsExactly(0, 4);
    }

    @Test
    void metricsAndCallsAreTheCrowds() throws Exception {
        MeasuredStudy study = both();
        assertThat(study.question().deciders().getFirst().metric()).isEqualTo(Metric.P95.of("readers"));
        assertThat(study.metrics()).contains(Metric.P99.of("import"), Metric.THROUGHPUT.of("tide"))
                .doesNotContain(Metric.PEAK_MEMORY.of("import"));
        assertThat(study.callsOfCrowds()).as("what both make first is neither's")
                .containsEntry("readers", List.of("list", "one", "tide")).containsEntry("import", List.of("arrival"));
        assertThat(Metric.byId("p99 of import")).contains(Metric.P99.of("import"));
        assertThat(Metric.byId("peak-memory of import")).isEmpty();
        Prediction prediction = Prediction.of(study, java.util.Optional.empty());
        assertThat(prediction.userSeconds()).hasValue(160);
        assertThat(prediction.arrivals()).hasValue(650);
        assertThat(prediction.support(Metric.P99.of("import"))).hasValue(6.5);
    }

    @Test
    void anotherCrowdIsAnotherLoad() throws Exception {
        String digest = LoadDigest.of(both());
        assertThat(digest).isEqualTo(LoadDigest.of(both()));
        for (String other : List.of(IMPORT.replace("start: 5s", "start: 6s"), IMPORT.replace("hold: 4s", "hold: 5s"),
                IMPORT.replace("name: import", "name: carriers"), IMPORT.replace("model:", "first: [], model:"))) {
            assertThat(LoadDigest.of(study("", "warmUp: 2s, crowds: [" + READERS + ", " + other + "]"))).as(other)
                    .isNotEqualTo(digest);
        }
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
            "name: import | name: readers | crowds[1].name | is that of another crowd",
            "name: import | name: tide | crowds[1].name | is that of a call",
            "makes: bring | makes: [bring, look] | crowds[1].makes | which another crowd makes",
            "makes: bring | makes: fly | crowds[1].makes | which is not there",
            "[browse, look] | [browse] | crowds | do not make the visit \"look\"",
            "makes: bring | makes: [] | crowds[1].makes | names no visit",
            "start: 5s | start: 1500ms | crowds[1].start | is 1500ms",
            "users: 8 | users: 0 | crowds[0].users | 0",
            "model: open | first: [leave], model: open | crowds[1].first | not in the first part"})
    void whatCannotBeIsTold(String from, String to, String place, String what) {
        String load = "warmUp: 2s, crowds: [" + READERS + ", " + IMPORT + "]";
        assertThatThrownBy(() -> study("", load.replace(from, to))).isInstanceOf(StudyException.class)
                .hasMessageContaining(place).hasMessageContaining(what);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
            "metric: p99, of: nobody, limit: 1s | which is no crowd and no call",
            "metric: peak-memory, of: import, limit: 100 | is of the candidate as a whole"})
    void aRequirementIsOnAPartThatIsThere(String requirement, String what) {
        assertThatThrownBy(() -> study(", require: [{" + requirement + "}]",
                "crowds: [" + READERS + ", " + IMPORT + "]")).hasMessageContaining(what);
    }

    @Test
    void oneLoadStandsBesideNoCrowds() {
        assertThatThrownBy(() -> study("", "model: open, measured: 20s, crowds: [" + READERS + ", " + IMPORT + "]"))
                .hasMessageContaining("load.model stands beside crowds").hasMessageContaining("load.measured");
        assertThatThrownBy(() -> study("", "measured: 20s")).hasMessageContaining("load.model is missing");
    }

    @Test
    void aCandidateAnswersACrowdElsewhere() throws Exception {
        Path file = folder.resolve("study.yaml");
        both();
        Files.writeString(file, Files.readString(file).replace("{id: b, address: \"http://127.0.0.1:82\"}",
                "{id: b, address: \"http://127.0.0.1:82\", elsewhere: [{crowd: import, signIn: {bearer: \"{{env:BOARD}}\"}}]}"));
        MeasuredStudy study = StudyFile.read(folder).measured();
        assertThat(study.candidates().getLast().entrance("import").access().signIn().words()).contains("earer");
        assertThat(study.candidates().getLast().entrance("import").address().port()).isEqualTo(82);
        assertThat(study.candidates().getLast().entrance("readers").access().signIn().words()).doesNotContain("earer");
        Files.writeString(file, Files.readString(file).replace("crowd: import", "crowd: nobody"));
        assertThatThrownBy(() -> StudyFile.read(folder)).hasMessageContaining("which is no crowd of the load");
    }
}
