package kadrem.files.imports;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class GivenStudyTest {
    @TempDir
    private Path folder;

    private MeasuredStudy of(String... given) throws Exception {
        GivenStudy.create(folder.resolve("s"), "", List.of(given));
        StudyFile file = StudyFile.read(folder.resolve("s"));
        assertThat(file.warnings()).as("nothing is left to be done by hand").noneMatch(
                warning -> !warning.toString().contains("never varies"));
        return file.measured();
    }

    @Test
    void twoAddressesAreTwoCandidatesThatAreAskedForTheSame() throws Exception {
        MeasuredStudy study = of("http://127.0.0.1:8081/berths/7?day=1", "http://127.0.0.1:8082/berths/7?day=1");
        assertThat(study.candidates()).extracting(Candidate::id).containsExactly("a", "b");
        assertThat(study.candidates()).extracting(Candidate::name).containsExactly("127.0.0.1:8081", "127.0.0.1:8082");
        assertThat(study.candidates()).extracting(one -> one.address().toString())
                .containsExactly("http://127.0.0.1:8081", "http://127.0.0.1:8082");
        assertThat(study.candidates()).extracting(Candidate::ready).containsOnly("/berths/7?day=1");
        assertThat(study.workload().calls()).extracting(call -> call.method() + " " + call.path())
                .containsExactly("GET /berths/7?day=1");
        assertThat(study.question().baseline()).isEqualTo("a");
    }

    @Test
    void versionsBelowOneHostAreToldApartByTheirPaths() throws Exception {
        MeasuredStudy study = of("http://127.0.0.1:8080/api/v1/berths/7\nhttp://127.0.0.1:8080/api/v2/berths/7\n");
        assertThat(study.candidates()).extracting(one -> one.address().toString())
                .containsExactly("http://127.0.0.1:8080/api/v1", "http://127.0.0.1:8080/api/v2");
        assertThat(study.workload().calls()).extracting(Call::path).containsExactly("/berths/7");
    }

    @Test
    void severalCallsOfOneHostAreOneCandidates() throws Exception {
        MeasuredStudy study = of("""
                curl -s http://127.0.0.1:8081/berths/7
                curl -X POST http://127.0.0.1:8081/reservations --json '{"berth": 7}'
                curl -s http://127.0.0.1:8081/tides
                """,
                "curl -k https://127.0.0.1:8443/berths/7");
        assertThat(study.candidates()).extracting(one -> one.address().toString())
                .containsExactly("http://127.0.0.1:8081", "https://127.0.0.1:8443");
        assertThat(study.candidates().get(1).access().tls().verify()).isFalse();
        assertThat(study.workload().calls()).extracting(call -> call.method() + " " + call.path())
                .containsExactly("GET /berths/7", "POST /reservations", "GET /tides");
    }

    @Test
    void whereTheyAreAskedForDifferentThingsThatIsTold() throws Exception {
        List<String> notes = GivenStudy.create(folder.resolve("s"), "Boards",
                List.of("http://127.0.0.1:8081/berths/7", "http://127.0.0.1:8082/tides"));
        assertThat(notes).singleElement().asString().contains("http://127.0.0.1:8082").contains("GET /tides");
        assertThat(StudyFile.read(folder.resolve("s")).study().name()).isEqualTo("Boards");
    }

    @Test
    void whatDoesNotRunYetIsLaunched() throws Exception {
        MeasuredStudy study = of("http://127.0.0.1:8081/berths/7 launched by java -jar \"my board.jar\" --port 8081\n"
                + "http://127.0.0.1:8082/berths/7\n");
        assertThat(study.candidates().getFirst().launch().orElseThrow().command())
                .containsExactly("java", "-jar", "my board.jar", "--port", "8081");
        assertThat(study.candidates().getFirst().launch().orElseThrow().folder()).as("where the user is")
                .isEqualTo(Path.of("").toAbsolutePath().toString());
        assertThat(study.candidates().get(1).launch()).isEmpty();
        assertThatThrownBy(() -> GivenStudy.create(folder.resolve("two"), "",
                List.of("http://127.0.0.1:8081/a launched by make; ./serve")))
                .isInstanceOf(ImportException.class);
    }

    @Test
    void aFileSaysWhatIsAskedOfTheAddressesBesideIt() throws Exception {
        Path requests = folder.resolve("tides request.http");
        Files.writeString(requests, "GET /tides?day=1 HTTP/1.1\nHost: boards.example\nAccept: application/json\n\n");
        MeasuredStudy study = of("http://127.0.0.1:8081", "http://127.0.0.1:8082/v2/", requests.toString());
        assertThat(study.candidates()).extracting(one -> one.address().toString())
                .containsExactly("http://127.0.0.1:8081", "http://127.0.0.1:8082/v2");
        assertThat(study.workload().calls()).extracting(call -> call.method() + " " + call.path())
                .containsExactly("GET /tides?day=1");
        assertThat(study.candidates()).extracting(Candidate::ready).containsOnly("/tides?day=1");
    }

    @Test
    void aFileAloneSaysWhoIsAskedToo() throws Exception {
        Path requests = folder.resolve("tides.http");
        Files.writeString(requests, "GET /tides HTTP/1.1\nHost: 127.0.0.1:8099\n\n");
        MeasuredStudy study = of(requests.toUri().toString());
        assertThat(study.candidates()).extracting(one -> one.address().toString())
                .containsExactly("http://127.0.0.1:8099");
    }

    @Test
    void aSecretOfACommandIsAReference() throws Exception {
        List<String> notes = GivenStudy.create(folder.resolve("s"), "",
                List.of("curl http://127.0.0.1:8081/a -H 'X-API-Key: neap-tide'", "curl http://127.0.0.1:8082/a"));
        assertThat(Files.readString(folder.resolve("s/study.yaml"))).contains("{{env:KADREM_X_API_KEY}}")
                .doesNotContain("neap-tide");
        assertThat(notes).anyMatch(note -> note.contains("KADREM_X_API_KEY"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"hello", "ftp://h/", "http://", "http://h/a b|c", "curl -x p http://h/", "", "http:///a"})
    void whatIsNoSuchThingIsToldAndNothingIsWritten(String given) {
        assertThatThrownBy(() -> of(given)).isInstanceOf(ImportException.class).message().isNotBlank();
        assertThat(folder.resolve("s")).doesNotExist();
    }

    @Test
    void aStudyThatIsThereStays() throws Exception {
        of("http://127.0.0.1:8081/a");
        String text = Files.readString(folder.resolve("s/study.yaml"));
        assertThatThrownBy(() -> of("http://127.0.0.1:8081/b")).isInstanceOf(IOException.class)
                .hasMessageContaining("There is a study");
        assertThat(Files.readString(folder.resolve("s/study.yaml"))).isEqualTo(text);
    }
}
