package kadrem.files.timeline;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.Stream;

import kadrem.core.plan.Curve;
import kadrem.core.plan.LoadDigest;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Timeline;
import kadrem.core.study.Workload;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Studies whose load is a timeline or a curve. */
class TimelineStudyTest {
    @TempDir
    Path folder;

    @BeforeEach
    void folders() throws Exception {
        Files.createDirectories(folder.resolve("timelines"));
        Files.createDirectories(folder.resolve("cache"));
    }

    private MeasuredStudy study(String csv, String load) throws Exception {
        Files.writeString(folder.resolve("timelines/friday.csv"), csv);
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: Friday
                question: {text: "Which?", decide: [{metric: p95}]}
                candidates: [{id: one, address: "http://127.0.0.1:1"}, {id: two, address: "http://127.0.0.1:2"}]
                workload:
                  values:
                    - {name: berth, from: 1, to: 100}
                    - {name: harbour, kind: pick, of: [north, south]}
                    - {name: each, from: 1, to: 5, keep: call}
                    - {name: id, kind: uuid}
                  visits:
                    - {name: look, calls: [{name: one-berth, path: "/berths/{{berth}}"}]}
                    - {name: list, calls: [{name: berths, path: "/berths?harbour={{harbour}}"}]}
                load:
                  warmUp: 4s
                  %s
                """.formatted(load));
        return StudyFile.read(folder).measured();
    }

    private static final String FRIDAY = """
            at,visit,berth,harbour
            0,look,7,
            0.5,list,,south
            2.25,look,100,
            2.25,,,
            9.999999999,list,,north
            """;

    @Test
    void aTimelineIsTheLoad() throws Exception {
        LoadProfile.Single load = study(FRIDAY, "model: open\n  timeline: {file: timelines/friday.csv}").load().single()
                .orElseThrow();
        Timeline timeline = load.timeline().orElseThrow();
        assertThat(timeline.arrivals()).isEqualTo(5);
        assertThat(load.measured()).isEqualTo(Duration.ofSeconds(10));
        assertThat(Curve.of(load.shape()).area()).isCloseTo(5, org.assertj.core.api.Assertions.within(1e-9));
        // before it as many come as in its mean
        assertThat(load.course().warmUpLevel().orElseThrow()).isEqualTo(0.5);
        assertThat(load.shape().segments().get(2).level()).isEqualTo(2);
    }

    @Test
    void aWindowOfItIsMadeFasterAndAgain() throws Exception {
        LoadProfile.Single load = study(FRIDAY,
                "model: open\n  timeline: {file: timelines/friday.csv, from: 500ms, length: 2s, speed: 0.5, repeat: 3}")
                .load().single().orElseThrow();
        Timeline timeline = load.timeline().orElseThrow();
        assertThat(timeline.first()).isEqualTo(1);
        assertThat(timeline.all()).isEqualTo(9);
        assertThat(load.measured()).isEqualTo(Duration.ofSeconds(12));
        assertThat(load.shape().segments().stream().map(one -> Math.round(one.level()))).containsExactly(1L, 0L, 0L, 2L,
                1L,
                0L, 0L, 2L, 1L, 0L, 0L, 2L);
    }

    @Test
    void anotherFileOrWindowIsAnotherLoad() throws Exception {
        String load = "model: open\n  timeline: {file: timelines/friday.csv, speed: %s}";
        String digest = LoadDigest.of(study(FRIDAY, load.formatted(1)));
        assertThat(LoadDigest.of(study(FRIDAY, load.formatted(2)))).isNotEqualTo(digest);
        assertThat(LoadDigest.of(study(FRIDAY.replace("0.5,", "0.6,"), load.formatted(1)))).isNotEqualTo(digest);
        assertThat(LoadDigest.of(study(FRIDAY, load.formatted(1)))).isEqualTo(digest);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
            "when;0|no column at|header line",
            "at,tide;0,1|column \"tide\"|or remove the column",
            "at,each;0,1|drawn anew for each call|keep: call",
            "at,id;0,1|makes its values up|numbers",
            "at;0;x|at \"x\" in line 3|12.25",
            "at;-1|at \"-1\" in line 2|12.25",
            "at;1e999999999|in line 2|12.25",
            "at;2;1|at 1, before the line above in line 3|Sort",
            "at,visit;0,sail|visit \"sail\"|look",
            "at,berth;0,101|\"101\" for berth|Add it",
            "at,harbour;0,east|\"east\" for harbour|Add it",
            "at,visit;0|too few columns in line 2|Complete",
            "at|no arrivals|a line for each",
            "at,at;1,1|cannot be read as CSV|RFC 4180"})
    void whatIsWrongIsToldWithItsLineAndItsMend(String csv, String what, String mend) {
        assertThatThrownBy(
                () -> study(csv.replace(';', '\n') + "\n", "model: open\n  timeline: {file: timelines/friday.csv}"))
                .isInstanceOf(StudyException.class).hasMessageContaining(what).hasMessageContaining(mend);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
            "model: closed@timeline: {file: timelines/friday.csv}|wait for nobody",
            "model: open@timeline: {file: timelines/friday.csv}@segments: [{hold: 5s, at: 1}]|stands beside segments",
            "model: open@timeline: {file: timelines/friday.csv}@visits: 10|how many there are",
            "model: open@timeline: {file: timelines/friday.csv}@ladder: {from: 1}|no level",
            "model: open@timeline: {file: timelines/friday.csv, from: 1h}|until 10s",
            "model: open@timeline: {file: timelines/friday.csv, from: 3s, length: 1s}|no arrival",
            "model: open@timeline: {file: timelines/friday.csv, repeat: 10000}|28 h",
            "model: open@timeline: {file: timelines/none.csv}|no such file",
            "model: open@timeline: {file: ../friday.csv}|outside the study"})
    void whatCannotStandTogetherIsTold(String load, String what) {
        assertThatThrownBy(() -> study(FRIDAY, load.replace("@", "\n  "))).isInstanceOf(StudyException.class)
                .hasMessageContaining(what);
    }

    @Test
    void whatWasReadOnceIsNotReadAgain() throws Exception {
        Workload workload = study(FRIDAY, "model: open\n  timeline: {file: timelines/friday.csv}").workload();
        Path csv = folder.resolve("timelines/friday.csv");
        Path cache = folder.resolve("cache");
        ReadyTimeline first = ReadyTimeline.of(csv, workload, cache);
        FileTime made = FileTime.from(Instant.now().minusSeconds(1000));
        Files.setLastModifiedTime(first.file(), made);
        assertThat(ReadyTimeline.of(csv, workload, cache)).isEqualTo(first);
        // it was of use, so that it stays
        assertThat(Files.getLastModifiedTime(first.file())).isGreaterThan(made);
        // numbers of visits depend on their order
        var turned = new Workload(workload.values(), workload.visits().reversed());
        ReadyTimeline other = ReadyTimeline.of(csv, turned, cache);
        assertThat(other.file()).isNotEqualTo(first.file());
        assertThat(other.digest()).isEqualTo(first.digest());
        assertThat(other.instants().visit(0)).isEqualTo(1);
        assertThat(first.instants().visit(0)).isZero();
        Files.setLastModifiedTime(first.file(), FileTime.from(Instant.now().minus(Duration.ofDays(31))));
        Files.writeString(csv, "at\n3\n");
        ReadyTimeline third = ReadyTimeline.of(csv, workload, cache);
        try (Stream<Path> kept = Files.list(cache)) {
            assertThat(kept).containsExactlyInAnyOrder(other.file(), third.file());
        }
    }

    @Test
    void aCurveIsReadFromATable() throws Exception {
        Files.writeString(folder.resolve("day.csv"), "minute,rate\n0,30\n1,60\n2,0\n");
        LoadProfile.Single load = study(FRIDAY,
                "model: open\n  curve: {file: day.csv, shortened: 60, times: 0.5}").load().single().orElseThrow();
        assertThat(load.shape().segments()).extracting(one -> one.length().toSeconds() + " s at " + one.level())
                .isEqualTo(List.of("1 s at 15.0", "1 s at 30.0", "1 s at 0.0"));
        LoadProfile users = study(FRIDAY, "model: closed\n  curve: {file: day.csv, each: 700ms}").load();
        assertThat(users.measured()).isEqualTo(Duration.ofSeconds(3));
        assertThat(((LoadProfile.Closed) users).users()).isEqualTo(60);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"rate;x|\"x\" in row 1", "rate;-1|\"-1\" in row 1",
            "rate;NaN|\"NaN\" in row 1",
            "tide;1|has the columns tide", "rate;7000000|load.curve has the level 7000000",
            "rate;0;0|load.curve has no arrivals", "rate;1;2|leaves less than 1 ms"})
    void aTableThatIsNoneIsRefused(String csv, String what) throws Exception {
        Files.writeString(folder.resolve("day.csv"), csv.replace(';', '\n') + "\n");
        String shortened = csv.contains(";2") ? "shortened: 100000" : "shortened: 60";
        assertThatThrownBy(() -> study(FRIDAY, "model: open\n  curve: {file: day.csv, " + shortened + "}"))
                .isInstanceOf(StudyException.class).hasMessageContaining(what);
    }
}
