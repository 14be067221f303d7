package kadrem.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.imports.ImportException;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A study is made of addresses and of a log that says what they are asked, and when. */
class GivenLogTest {
    @TempDir
    private Path folder;

    private Path log(String name) throws Exception {
        return Files.writeString(folder.resolve(name), """
                192.0.2.7 - - [27/Nov/2026:10:00:00 +0100] "GET /berths/7 HTTP/1.1" 200 99
                192.0.2.7 - - [27/Nov/2026:10:00:01 +0100] "GET /berths/8 HTTP/1.1" 200 99
                192.0.2.7 - - [27/Nov/2026:10:00:03 +0100] "GET /days HTTP/1.1" 200 99
                """);
    }

    private MeasuredStudy made(String... given) throws Exception {
        Path study = folder.resolve("study");
        MakeStudy.of(study, "", List.of(given));
        return StudyFile.read(study).measured();
    }

    @Test
    void theLogSaysWhatIsAskedAndWhen() throws Exception {
        MeasuredStudy study = made("http://127.0.0.1:8081/", "http://127.0.0.1:8082/x", log("friday.log").toString());
        assertThat(study.candidates().stream().map(Candidate::address).map(Object::toString))
                .containsExactly("http://127.0.0.1:8081", "http://127.0.0.1:8082");
        assertThat(study.workload().calls().stream().map(call -> call.path())).containsExactly("/berths/{{berths}}",
                "/days");
        assertThat(study.load().timeline().orElseThrow().arrivals()).isEqualTo(3);
    }

    @Test
    void withoutAddressesTheyAreToBeFilledIn() throws Exception {
        Path log = log("friday.log");
        List<String> notes = MakeStudy.of(folder.resolve("study"), "", List.of(log.toString()));
        assertThat(notes).anyMatch(note -> note.contains("does not say where"))
                .anyMatch(note -> note.contains("3 of 3"));
        assertThat(StudyFile.read(folder.resolve("study")).measured().load().timeline()).isPresent();
    }

    @Test
    void whatCannotBeTakenLeavesNothing() throws Exception {
        Path none = Files.writeString(folder.resolve("none.log"), "no log\nat all\n");
        assertThatThrownBy(() -> made("http://127.0.0.1:8081/", none.toString())).isInstanceOf(ImportException.class);
        assertThat(folder.resolve("study/study.yaml")).doesNotExist();
        Path one = log("a.log");
        Path two = log("b.log");
        assertThatThrownBy(() -> made(one.toString(), two.toString())).isInstanceOf(ImportException.class)
                .hasMessageContaining("Two logs");
    }
}
