package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;

import kadrem.files.study.StudyFile;
import kadrem.fixtures.Answering;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;

/** Two honest frameworks that answer the same thing, each in its own way. */
@Execution(ExecutionMode.SAME_THREAD)
class UsualDifferencesTest extends CommandLineTest {
    @TempDir
    private Path folder;

    private String study(Answering one, Answering two) throws Exception {
        Files.writeString(folder.resolve(StudyFile.NAME), """
                kadrem: 1
                name: Two frameworks
                question: {text: Which one, decide: [{metric: p95}]}
                candidates:
                  - {id: a, address: "%s"}
                  - {id: b, address: "%s"}
                workload:
                  visits:
                    - name: look
                      calls:
                        - {name: one, path: /berths/7}   # the page
                load: {model: open, arrivalsPerSecond: 5, measured: 2s}
                """.formatted(one.address(), two.address()));
        allow(folder.toString());
        return folder.toString();
    }

    @Test
    void whatIsUsualIsAcceptedWithItsReasonAndNothingElse() throws Exception {
        try (Answering one = Answering.with(Map.of("Content-Type", "application/json", "ETag", "\"a1\""),
                "{\"key\": \"0b5c0a2e-6a52-4a0e-9d4b-3f0c9a0b1c2d\", \"quay\": \"Alder\"}");
                Answering two = Answering.with(
                        Map.of("Content-Type", "application/json;charset=UTF-8", "ETag", "W/\"7\""),
                        "{\"quay\": \"Birch\", \"key\": \"f47ac10b-58cc-4372-a567-0e02b2c3d479\"}")) {
            String study = study(one, two);
            assertThat(kadrem("rehearse", study)).as(err.toString()).isEqualTo(Main.DISAGREES);
            assertThat(out.toString()).contains("4 differences")
                    .contains("usual: a charset has no effect on JSON (RFC 8259, section 11)")
                    .contains("usual: an id that each candidate draws for itself")
                    .contains("3 of them are usual between implementations; --accept-usual accepts them");
            assertThat(kadrem("rehearse", study, "--accept-usual")).as("the quays differ").isEqualTo(Main.DISAGREES);
            assertThat(err.toString()).contains("accepted: one, b: header etag");
            assertThat(out.toString()).contains("1 difference that the study does not accept").contains("$.quay")
                    .contains("3 accepted.");
            assertThat(StudyFile.read(folder).measured().agreement().accepted())
                    .extracting(accepted -> accepted.call() + " " + accepted.where())
                    .containsExactlyInAnyOrder("one header content-type", "one header etag", "one $.key");
            assertThat(Files.readString(folder.resolve(StudyFile.NAME))).contains("# the page");
        }
    }

    @Test
    void whereNothingElseDiffersTheAnswersAgree() throws Exception {
        try (Answering one = Answering.with(Map.of("Content-Type", "application/json"), "{\"quay\": \"Alder\"}");
                Answering two = Answering.with(Map.of("Content-Type", "application/json; charset=utf-8"),
                        "{\"quay\": \"Alder\"}")) {
            String study = study(one, two);
            assertThat(kadrem("rehearse", study, "--accept-usual")).as(err.toString()).isZero();
            assertThat(kadrem("rehearse", study)).as("and the next time without a word").isZero();
        }
    }
}
