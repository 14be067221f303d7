package kadrem.files.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.SignIn;
import kadrem.core.study.Study;
import kadrem.core.study.ValueList;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Addresses, sign-in, TLS, reset; and value lists from CSV files. */
class CandidatesReaderTest {
    @TempDir
    private Path folder;

    private Study study(String more, String candidate) throws IOException, StudyException {
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: s
                question: {text: Which, decide: [{metric: p50}]}
                %s
                candidates:
                  - {id: a, address: "https://127.0.0.1:8443/api/", %s}
                  - {id: b, address: "http://[::1]:81"}
                workload: {visits: [{name: v, calls: [{name: c, path: /x}]}]}
                load: {model: open, arrivalsPerSecond: 5, measured: 5s}
                """.formatted(more, candidate));
        return StudyFile.read(folder).study();
    }

    private Candidate candidate(String fields) throws IOException, StudyException {
        return study("", fields).candidates().getFirst();
    }

    @Test
    void addressesOverTlsAndOfTheSixthVersion() throws Exception {
        Study study = study("intendedDifferences: [server, launch]", "ready: /h");
        assertThat(study.candidates().getFirst().address().toString()).isEqualTo("https://127.0.0.1:8443/api");
        assertThat(study.candidates().get(1).address().toString()).isEqualTo("http://[::1]:81");
        assertThat(study.intended()).containsExactly("server", "launch");
        assertThat(study.candidates().getFirst().access().tls().verify()).isTrue();
    }

    @Test
    void aSignInOfTheStudyHoldsUnlessACandidateHasItsOwn() throws Exception {
        Study study = study("signIn: {bearer: \"{{env:T}}\"}",
                "signIn: {digest: {user: harbour, password: \"{{file:~/p}}\"}}");
        assertThat(study.candidates().getFirst().access().signIn())
                .isEqualTo(new SignIn.Digest("harbour", "{{file:~/p}}"));
        assertThat(study.candidates().get(1).access().signIn()).isEqualTo(new SignIn.Bearer("{{env:T}}"));
        assertThat(
                candidate("signIn: {oauth: {tokenAddress: \"http://h/t\", client: c, secret: \"{{env:S}}\"}}").access()
                        .signIn())
                .isEqualTo(new SignIn.ClientCredentials("http://h/t", "c", "{{env:S}}", ""));
        assertThat(candidate("signIn: {header: {name: X-Key, value: \"{{env:K}}\"}}").access().signIn())
                .isEqualTo(new SignIn.Key("X-Key", "{{env:K}}"));
        assertThat(candidate("signIn: {none: true}").access().signIn()).isEqualTo(new SignIn.None());
    }

    @ParameterizedTest
    @CsvSource({"3-1", "0-", "all", "0-99999999"})
    void whatIsNoSetOfProcessorsIsRefused(String written) {
        assertThatThrownBy(() -> candidate("launch: {command: [x], processors: \"" + written + "\"}"))
                .hasMessageContaining("processors").hasMessageContaining("0-3,6");
    }

    @Test
    void processorsAreASet() throws Exception {
        var launch = candidate("launch: {command: [x], processors: \"0-2,6\"}").launch().orElseThrow();
        assertThat(Launch.processors(launch.processors().orElseThrow()).stream()).containsExactly(0, 1, 2, 6);
    }

    @Test
    void aResetIsACallOrACommand() throws Exception {
        assertThat(candidate("reset: {path: /r}").reset().orElseThrow())
                .isEqualTo(new Candidate.ControlCall("POST", "/r"));
        assertThat(candidate("reset: {command: [./reset.sh, now]}").reset().orElseThrow().words())
                .isEqualTo("./reset.sh now");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"signIn: {basic: {user: u, password: plain}} | holds a secret itself",
            "signIn: {basic: {user: u, password: '{{env:P}}'}, bearer: '{{env:T}}'} | stands beside basic",
            "signIn: {basic: {password: '{{env:P}}'}} | signIn.basic.user is missing",
            "tls: {authority: none.pem} | there is no such file", "tls: {verify: perhaps} | Use true or false",
            "reset: {} | such as path: /reset", "launch: {command: []} | Add one at least, such as [./serve"})
    void mistakesAreToldWithTheirLine(String fields, String words) {
        assertThatThrownBy(() -> candidate(fields)).isInstanceOf(StudyException.class).hasMessageContaining("line ")
                .hasMessageContaining(words);
    }

    private List<String> column(String csv, String column) throws IOException, StudyException {
        Files.createDirectories(folder.resolve("values"));
        Files.writeString(folder.resolve("values/v.csv"), csv);
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: s
                question: {text: Which, decide: [{metric: p50}]}
                candidates: [{id: a, address: "http://127.0.0.1:1"}, {id: b, address: "http://127.0.0.1:2"}]
                workload:
                  values: [{name: v, file: values/v.csv, column: "%s"}]
                  visits: [{name: v, calls: [{name: c, path: "/{{v}}"}]}]
                load: {model: open, arrivalsPerSecond: 5, measured: 5s}
                """.formatted(column));
        return StudyFile.read(folder).measured().workload().values().stream().map(ValueList.Listed.class::cast)
                .findFirst().orElseThrow().rows();
    }

    /** The examples of RFC 4180, section 2: with and without a last line break, header, quotes, doubled quotes. */
    @Test
    void valuesAreReadAsTheStandardForCsvHasThem() throws Exception {
        assertThat(column("field_name,other\r\naaa,bbb\r\nzzz,yyy\r\n", "field_name")).containsExactly("aaa", "zzz");
        assertThat(column("f,g\r\naaa,bbb\r\nzzz,yyy", "g")).as("no last line break").containsExactly("bbb", "yyy");
        assertThat(column("f,g\r\n\"aaa\",\"b \r\nbb\"\r\nzzz,yyy", "g")).as("a break inside quotes")
                .containsExactly("b \r\nbb", "yyy");
        assertThat(column("f\r\n\"b\"\"bb\"\r\n", "f")).as("a doubled quote").containsExactly("b\"bb");
        assertThat(column("f\r\n a \r\n", "f")).as("spaces belong to a field").containsExactly(" a ");
    }

    @Test
    void csvThatCannotBeUsedIsTold() {
        assertThatThrownBy(() -> column("f,g\r\na,b\r\n", "h")).hasMessageContaining("has the columns f, g");
        assertThatThrownBy(() -> column("f,g\r\na\r\n", "g")).hasMessageContaining("too few columns in line 2");
        assertThatThrownBy(() -> column("f\r\n", "f")).hasMessageContaining("has no rows");
        assertThatThrownBy(() -> column("f\r\n\"open", "f")).hasMessageContaining("cannot be read as CSV");
    }
}
