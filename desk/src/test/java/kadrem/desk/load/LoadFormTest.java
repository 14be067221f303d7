package kadrem.desk.load;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;

import kadrem.core.plan.Curve;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Segment;
import kadrem.files.study.Edit;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What the Load station writes into a study is what the study then says, and is shown again. */
class LoadFormTest {
    @TempDir
    private Path folder;

    private StudyFile file(String load) throws Exception {
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: s
                question: {text: Which, decide: [{metric: p50}]}
                candidates: [{id: a, address: "http://127.0.0.1:81"}]
                workload: {visits: [{name: v, calls: [{name: c, path: /x}]}]}
                load: {%s}
                """.formatted(load));
        return StudyFile.read(folder);
    }

    private static MeasuredStudy after(StudyFile file, List<Edit> edits) throws StudyException {
        return file.with(edits).measured();
    }

    private static LoadProfile.Single single(MeasuredStudy study) {
        return study.load().single().orElseThrow();
    }

    @Test
    void segmentsAreShownAsTheyAreWritten() throws Exception {
        StudyFile file = file("model: closed, users: 10, measured: 20s");
        var rows = List.of(List.of("ramp", "15s", "100", ""), List.of("step", "1min", "160", "3"),
                List.of("burst", "5s", "240", ""));
        MeasuredStudy study = after(file, LoadForm.segments(CrowdEdits.LOAD, single(file.measured()), rows));
        assertThat(single(study).shape().segments().getFirst()).as("what was one level comes first")
                .isEqualTo(Segment.hold(Duration.ofSeconds(20), 10));
        assertThat(LoadForm.segments(single(study).shape()).subList(1, 4)).isEqualTo(rows);
    }

    @Test
    void oneHeldSegmentBecomesALevelAgain() throws Exception {
        StudyFile file = file(
                "model: closed, users: 10, measured: 20s, segments: [{hold: 5s, at: 4}, {ramp: 5s, to: 8}]");
        MeasuredStudy study = after(file,
                LoadForm.segments(CrowdEdits.LOAD, single(file.measured()), List.of(List.of("hold", "5s", "4", ""))));
        assertThat(single(study).shape().isFlat()).isTrue();
        assertThat(single(study).shape().peak()).isEqualTo(4);
        assertThat(LoadForm.segments(single(study).shape())).isEmpty();
    }

    @Test
    void rulesAndRequirementsAreShownAsTheyAreWritten() throws Exception {
        StudyFile file = file("model: open, arrivalsPerSecond: 10, measured: 20s");
        var rules = List.of(List.of("error-share", "5%", "15s", "go on"), List.of("p95", "2s", "20s", "end all"));
        MeasuredStudy study = after(file, LoadForm.stopWhen(rules));
        assertThat(LoadForm.stopRules(study.load().course().stopRules())).isEqualTo(rules);
        assertThat(after(file, LoadForm.stopWhen(List.of())).load().course().stopRules()).isEmpty();
        var limits = List.of(List.of("p99", "250ms"), List.of("error-share", "0.1%"), List.of("throughput", "400"),
                List.of("peak-memory", "512"));
        assertThat(LoadForm.requirements(after(file, LoadForm.require(limits)).question().requirements()))
                .isEqualTo(limits);
    }

    @ParameterizedTest
    @EnumSource
    void everyStartShapeIsAUsableLoad(StartShape shape) throws Exception {
        for (String model : List.of("model: open, arrivalsPerSecond: 40", "model: closed, users: 40, thinkTime: 1s")) {
            StudyFile file = file(model + ", measured: 20s, segments: [{ramp: 5s, to: 40}, {hold: 5s}]");
            LoadProfile.Single load = single(after(file, shape.edits(file.measured())));
            switch (shape) {
                case STEADY -> assertThat(load.shape().isFlat()).isTrue();
                case STRESS -> assertThat(load.shape().peak()).isEqualTo(120);
                case SOAK -> assertThat(load.measured()).isEqualTo(Duration.ofHours(1));
                case SPIKE -> assertThat(load.shape().peak()).isEqualTo(200);
                case LADDER -> assertThat(load.course().search().orElseThrow())
                        .isEqualTo(new LevelSearch.Ladder(5, 2, 0, 8, 0.05));
            }
        }
    }

    /** Each handle moves its own point, and the file then has the profile that was dragged. */
    @Test
    void handlesMoveThePointsOfTheCurve() throws Exception {
        StudyFile file = file("model: closed, warmUp: 5s, windDown: 5s, thinkTime: 1s,"
                + " segments: [{ramp: 10s, to: 100}, {hold: 20s, at: 100}]");
        LoadProfile.Single load = single(file.measured());
        List<ProfileHandle> handles = ProfileHandle.of(load);
        assertThat(handles).extracting(handle -> handle.second(load)).containsExactly(5.0, 15.0, 35.0, 40.0);
        LoadProfile.Single moved = handles.get(1).moved(load, Duration.ofSeconds(25), 60);
        assertThat(moved.shape().segments().getFirst()).isEqualTo(Segment.ramp(Duration.ofSeconds(20), 60));
        assertThat(Curve.of(moved.shape()).area()).isCloseTo(20 * 30 + 20 * 100, within(1e-9));
        assertThat(after(file, LoadForm.profile(moved)).load()).isEqualTo(moved);
        LoadProfile.Single warmed = handles.getFirst().moved(load, Duration.ofSeconds(9), 77);
        assertThat(warmed.warmUp()).isEqualTo(Duration.ofSeconds(9));
        assertThat(warmed.shape()).isEqualTo(load.shape());
        LoadProfile.Single shortened = handles.get(2).moved(load, Duration.ofSeconds(2), 100);
        assertThat(shortened.shape().segments().get(1).length()).as("no piece is shorter than a second")
                .isEqualTo(Duration.ofSeconds(1));
        assertThat(handles.getLast().moved(load, Duration.ofSeconds(45), 0).course().windDown())
                .isEqualTo(Duration.ofSeconds(10));
    }
}
