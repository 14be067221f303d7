package kadrem.files.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.Difference;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.rehearsal.Timeline;
import kadrem.core.study.Agreement;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.fixtures.Schemas;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RehearsalFileTest {
    private static final Agreement ACCEPTING = new Agreement(List.of(), List.of(), 0, false,
            List.of(new Agreement.Accepted("c", "$.id", "counted apart")));
    @TempDir
    private Path folder;

    private static RehearsedCall call(byte[] body, Optional<FailureKind> failure) {
        return new RehearsedCall("look", "c",
                "GET / HTTP/1.1\r\nCookie: sid=s3cret\r\nAuthorization: Bearer s3cret\r\n\r\n", 200,
                List.of(new Call.Header("Content-Type", "application/json"),
                        new Call.Header("Set-Cookie", "sid=s3cret")),
                99, Bytes.of(body), Bytes.of(body), "ab", new Timeline(1, 2, 3, 4, 5, 6), failure,
                failure.isPresent() ? "$.id finds nothing" : "");
    }

    private static Rehearsal rehearsal(byte[] body) {
        return new Rehearsal(Instant.parse("2026-07-01T08:00:00Z"), "digest",
                List.of(new Rehearsal.OfCandidate("a", List.of(call(body, Optional.empty())), ""),
                        new Rehearsal.OfCandidate("b",
                                List.of(call(body, Optional.of(FailureKind.FAILED_EXPECTATION))), "")),
                List.of(new Difference("c", "b", "$.id", "1", "2"), new Difference("c", "b", "status", "200", "404")));
    }

    @Test
    void whatIsWrittenIsReadBack() throws Exception {
        Rehearsal written = rehearsal("{\"id\":\"Ærø\"}".getBytes(StandardCharsets.UTF_8));
        RehearsalFile.write(folder, written, ACCEPTING);
        Rehearsal read = RehearsalFile.read(folder).orElseThrow();
        assertThat(read.at()).isEqualTo(written.at());
        assertThat(read.loadDigest()).isEqualTo("digest");
        assertThat(read.differences()).isEqualTo(written.differences());
        RehearsedCall call = read.candidates().get(1).calls().getFirst();
        assertThat(call.failure()).hasValue(FailureKind.FAILED_EXPECTATION);
        assertThat(call.detail()).isEqualTo("$.id finds nothing");
        assertThat(call.timeline()).isEqualTo(new Timeline(1, 2, 3, 4, 5, 6));
        assertThat(new String(call.decoded().toArray(), StandardCharsets.UTF_8)).isEqualTo("{\"id\":\"Ærø\"}");
        assertThat(read.candidates().getFirst().isGood()).isTrue();
        String text = Files.readString(folder.resolve(RehearsalFile.NAME));
        assertThat(Schemas.missing("rehearsal", Schemas.strictly("rehearsal", new ObjectMapper().readTree(text))))
                .as("in others")
                .containsExactlyInAnyOrder("/candidates/calls/answered", "/candidates/calls/bodyBase64");
        assertThat(text).doesNotContain("s3cret").contains("counted apart");
        assertThat(read.open(ACCEPTING)).extracting(Difference::where).containsExactly("status");
    }

    @Test
    void bytesThatAreNoTextAreKeptToo() throws Exception {
        byte[] picture = {(byte) 0x89, 'P', 'N', 'G', 0, (byte) 0xff};
        RehearsalFile.write(folder, rehearsal(picture), Agreement.EXACT);
        assertThat(RehearsalFile.read(folder).orElseThrow().candidates().getFirst().calls().getFirst().decoded()
                .toArray()).isEqualTo(picture);
    }

    @Test
    void aLargeBodyIsCut() throws Exception {
        RehearsalFile.write(folder, rehearsal("x".repeat(200_000).getBytes(StandardCharsets.UTF_8)), Agreement.EXACT);
        assertThat(RehearsalFile.read(folder).orElseThrow().candidates().getFirst().calls().getFirst().decoded().size())
                .isEqualTo(64 * 1024);
    }

    @Test
    void whatIsNoRehearsalIsNone() throws Exception {
        assertThat(RehearsalFile.read(folder)).isEmpty();
        Path file = folder.resolve(RehearsalFile.NAME);
        for (String text : List.of("", "{", "{\"kadremRehearsal\": 2}", "{\"kadremRehearsal\": 1, \"at\": \"today\"}",
                "{\"kadremRehearsal\": 1, \"at\": \"2026-07-01T08:00:00Z\", \"candidates\": [{\"calls\": [{\"failure\": \"x\"}]}]}")) {
            Files.writeString(file, text);
            assertThat(RehearsalFile.read(folder)).as(text).isEmpty();
        }
    }
}
