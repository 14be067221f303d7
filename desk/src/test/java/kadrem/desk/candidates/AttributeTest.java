package kadrem.desk.candidates;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

import kadrem.core.study.Candidate;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What is written into a field of the Candidates station is what the study then says. */
class AttributeTest {
    @TempDir
    private Path folder;
    private StudyFile file;

    private static Attribute attribute(String name) {
        return Attribute.ALL.stream().filter(one -> one.name().equals(name)).findFirst().orElseThrow();
    }

    private Candidate set(String name, String text) throws Exception {
        file = file.with(List.of(attribute(name).change().apply("candidates[0]", text)));
        return file.study().candidates().getFirst();
    }

    private void begin() throws Exception {
        NewStudy.create(folder.resolve("s"), "s");
        file = StudyFile.read(folder.resolve("s"));
    }

    @Test
    void everyAttributeIsReadBackAsItWasWritten() throws Exception {
        begin();
        Map<String, String> texts = Map.ofEntries(Map.entry("name", "Board: one"),
                Map.entry("address", "https://127.0.0.1:8443/api"),
                Map.entry("launch", "run \"two words\" --port {{port}}"),
                Map.entry("environment", "A=1, B=x"), Map.entry("processor set", "0-1"),
                Map.entry("ready probe", "/health"), Map.entry("ready within", "9s"),
                Map.entry("reset", "POST /reset"), Map.entry("version", "/version"), Map.entry("stop within", "3s"));
        // the launch comes first, since others belong to it
        set("launch", texts.get("launch"));
        for (Map.Entry<String, String> entry : texts.entrySet()) {
            Candidate candidate = set(entry.getKey(), entry.getValue());
            assertThat(attribute(entry.getKey()).text().apply(candidate)).isEqualTo(entry.getValue());
        }
        assertThat(file.study().candidates().getFirst().launch().orElseThrow().command()).containsExactly("run",
                "two words", "--port", "{{port}}");
    }

    @ParameterizedTest
    @ValueSource(strings = {"http/2 streams 16", "pipelined 8", "per-visit no-resumption", "per-call",
            "accept gzip,br pack redirects 5 cookies trace 1%", "socket /run/board.sock", ""})
    void aWireIsReadBackAsItWasWritten(String text) throws Exception {
        begin();
        assertThat(attribute("wire").text().apply(set("wire", text))).isEqualTo(text);
    }

    @Test
    void anUnknownWordOfAWireIsToldByItsName() throws Exception {
        begin();
        assertThatThrownBy(() -> set("wire", "http/9")).hasMessageContaining("http/9");
    }

    @Test
    void anEmptiedFieldGoesBackToItsRule() throws Exception {
        begin();
        set("launch", "run it");
        assertThat(set("launch", " ").launch()).as("it runs already").isEmpty();
        set("reset", "/reset");
        assertThat(attribute("reset").text().apply(file.study().candidates().getFirst())).isEqualTo("POST /reset");
        assertThat(set("reset", "").reset()).isEmpty();
        assertThat(set("ready probe", "").ready()).isEqualTo("/");
    }

    @ParameterizedTest
    @ValueSource(strings = {"basic harbour {{env:P}}", "digest harbour {{file:~/p}}", "bearer {{env:T}}",
            "key X-API-Key {{env:K}}", "oauth http://127.0.0.1:9/t me {{env:S}}",
            "oauth http://127.0.0.1:9/t me {{env:S}} \"berths read\"", ""})
    void signInsAreReadBack(String text) throws Exception {
        begin();
        assertThat(attribute("sign-in").text().apply(set("sign-in", text))).isEqualTo(text);
    }

    @Test
    void tlsIsReadBackAndSecretsAreRefused() throws Exception {
        begin();
        Files.writeString(folder.resolve("s/ca.pem"), "x");
        assertThat(attribute("tls").text().apply(set("tls", "no-verify authority ca.pem")))
                .isEqualTo("no-verify authority ca.pem");
        assertThat(attribute("tls").text().apply(set("tls", ""))).isEmpty();
        assertThatThrownBy(() -> set("sign-in", "bearer plain")).hasMessageContaining("holds a secret itself");
        assertThatThrownBy(() -> set("sign-in", "basic harbour")).hasMessageContaining("password is missing");
        assertThatThrownBy(() -> set("tls", "authority none.pem")).hasMessageContaining("no such file");
    }

    @Test
    void aResetMayBeACommand() throws Exception {
        begin();
        assertThat(set("reset", "./reset.sh now").reset().orElseThrow())
                .isEqualTo(new Candidate.ControlCommand(List.of("./reset.sh", "now")));
        assertThat(set("reset", "DELETE /data").reset().orElseThrow())
                .isEqualTo(new Candidate.ControlCall("DELETE", "/data"));
    }
}
