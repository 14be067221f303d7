package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import java.util.stream.Stream;

import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyFile;
import kadrem.fixtures.Answering;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;

/** From addresses to a verdict, and a load that is found. */
@Execution(ExecutionMode.SAME_THREAD)
class GivenAddressesTest extends CommandLineTest {
    private static final String BERTH = "{\"quay\": \"Alder\"}";
    @TempDir
    private Path folder;

    private static Answering service(int millis, String contentType) throws Exception {
        return Answering.busy(Duration.ofMillis(millis),
                Map.of("Content-Type", contentType, "ETag", "\"" + millis + "\""),
                BERTH);
    }

    private static long leftBehind() throws Exception {
        try (Stream<Path> all = Files.list(Path.of(System.getProperty("java.io.tmpdir")))) {
            return all.filter(path -> path.getFileName().toString().startsWith("kadrem-compare-")).count();
        }
    }

    @Test
    void addressesAreComparedAndTheStudyStaysWhereItIsWanted() throws Exception {
        try (Answering slow = service(4, "application/json");
                Answering fast = service(2, "application/json; charset=utf-8")) {
            Path kept = folder.resolve("kept");
            int code = kadrem("compare", slow.address() + "/berths/7", fast.address() + "/berths/7", "--for", "1s",
                    "--rounds", "1", "--keep", kept.toString());
            assertThat(code).as(err.toString()).isIn(Main.NOT_SETTLED, Main.UNSOUND);
            assertThat(err.toString()).as("what is usual is accepted, and said")
                    .contains("accepted: get-berths-7, b: header etag")
                    .contains("answered ").contains("arrivals/s are proposed").contains("2 runs to make")
                    .contains("kadrem open " + kept);
            assertThat(out.toString()).startsWith("Which of them do we take?").contains("round");
            MeasuredStudy study = StudyFile.read(kept).measured();
            assertThat(study.plan().rounds()).isEqualTo(1);
            assertThat(study.load().measured()).isEqualTo(Duration.ofSeconds(1));
            assertThat(((LoadProfile.Open) study.load()).arrivalsPerSecond()).as("half of at most 250/s")
                    .isBetween(1.0, 125.0);
            assertThat(new RunFolders(kept).runs()).isNotEmpty();
        }
    }

    @Test
    void answersThatDifferAreNotMeasuredAndNothingIsLeftBehind() throws Exception {
        long before = leftBehind();
        try (Answering one = Answering.with(Map.of(), "{\"quay\": \"Alder\"}");
                Answering two = Answering.with(Map.of(), "{\"quay\": \"Birch\"}")) {
            assertThat(kadrem("compare", one.address() + "/berths/7", two.address() + "/berths/7"))
                    .isEqualTo(Main.DISAGREES);
            assertThat(err.toString()).contains("{\"quay\": \"Birch\"}").contains("--keep FOLDER");
        }
        assertThat(leftBehind()).isEqualTo(before);
    }

    @Test
    void aLoadIsFoundForAStudyAndTakenOnlyWhereToldSo() throws Exception {
        try (Answering slow = service(10, "application/json"); Answering fast = service(5, "application/json")) {
            Path file = folder.resolve(StudyFile.NAME);
            Files.writeString(file, """
                    kadrem: 1
                    name: Two
                    question: {text: Which one, decide: [{metric: p50}]}
                    candidates:
                      - {id: a, address: "%s"}
                      - {id: b, address: "%s"}
                    workload: {visits: [{name: look, calls: [{name: one, path: /berths/7}]}]}
                    load: {model: closed, users: 3, thinkTime: 1s, measured: 2s, timeout: 7s}   # a guess
                    plan: {rounds: 9, seed: 4}
                    """.formatted(slow.address(), fast.address()));
            allow(folder.toString());
            String before = Files.readString(file);
            assertThat(kadrem("find-load", folder.toString())).as(err.toString()).isZero();
            assertThat(out.toString()).containsPattern("a +2 +\\d+\\.?\\d* ").contains("With --accept");
            assertThat(Files.readString(file)).isEqualTo(before);
            assertThat(kadrem("find-load", folder.toString(), "--accept")).as(err.toString()).isZero();
            MeasuredStudy study = StudyFile.read(folder).measured();
            assertThat(study.load()).isInstanceOfSatisfying(LoadProfile.Open.class, open -> {
                assertThat(open.arrivalsPerSecond()).as("half of at most 100/s").isBetween(1.0, 50.0);
                assertThat(open.timeout()).isEqualTo(Duration.ofSeconds(7));
            });
            assertThat(study.plan().seed()).isEqualTo(4);
            assertThat(Files.readString(file)).contains("# a guess");
        }
    }

    @Test
    void optionsOfAddressesAreRefusedForAStudy() throws Exception {
        assertThat(kadrem("compare", folder.toString(), "--rounds", "3")).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("kadrem measure");
        assertThat(kadrem("compare", "http://127.0.0.1:1/", "--for", "1 hour")).isEqualTo(Main.BAD_INPUT);
    }
}
