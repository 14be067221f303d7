package kadrem.whole;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

import kadrem.fixtures.Ports;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.DisabledOnOs;
import org.junit.jupiter.api.condition.OS;
import org.junit.jupiter.api.io.TempDir;

/**
 * The program as it is packaged, started by its script: what the tests' own class paths bring along is not there. Runs
 * after packaging.
 */
@DisabledOnOs(value = OS.WINDOWS, disabledReason = "the script is for bash")
class PackagedProgramIT {
    private static final Path HOME = Path.of("..").toAbsolutePath().normalize();
    private static final long PATIENCE_SECONDS = 120;
    @TempDir
    private Path folder;

    private record Ended(int code, String out, String err) {
    }

    private Process start(Path out, Path err, List<String> arguments) throws IOException {
        var command = new ArrayList<>(List.of("bash", HOME.resolve("kadrem").toString()));
        command.addAll(arguments);
        var builder = new ProcessBuilder(command).redirectOutput(out.toFile()).redirectError(err.toFile());
        builder.environment().put("KADREM_BUILT", "1");
        builder.environment().put("KADREM_JDK", System.getProperty("java.home"));
        return builder.start();
    }

    private Ended kadrem(String... arguments) throws Exception {
        Path out = folder.resolve("out");
        Path err = folder.resolve("err");
        Process process = start(out, err, List.of(arguments));
        if (!process.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS)) {
            process.destroyForcibly();
            throw new AssertionError("did not end: " + Files.readString(err));
        }
        return new Ended(process.exitValue(), Files.readString(out, StandardCharsets.UTF_8),
                Files.readString(err, StandardCharsets.UTF_8));
    }

    @Test
    void comparesTheDemoStudyAsTextAndAsJson() throws Exception {
        String demo = HOME.resolve("demo/harbour-berths").toString();
        Ended text = kadrem("compare", demo);
        assertThat(text.code()).as(text.err()).isZero();
        assertThat(text.out()).contains("Harbour berth board").contains("adj. p").contains("settled");
        Ended json = kadrem("compare", demo, "--format", "json");
        assertThat(json.code()).as(json.err()).isZero();
        assertThat(json.out().strip()).startsWith("{").endsWith("}").contains("\"adjustedP\"");
    }

    @Test
    void standInAnswersAndIsTried() throws Exception {
        int port = Ports.free();
        Path out = folder.resolve("standin");
        Process standIn = start(out, folder.resolve("standin-err"),
                List.of("standin", "loop", "--port", Integer.toString(port)));
        try {
            for (int i = 0; i < PATIENCE_SECONDS * 20 && !Files.readString(out).contains("answers on"); i++) {
                assertThat(standIn.isAlive()).isTrue();
                TimeUnit.MILLISECONDS.sleep(50);
            }
            Ended trial = kadrem("try", "http://127.0.0.1:" + port + "/berths/7", "--users", "2", "--for", "1s",
                    "--warm-up", "0s", "--format", "json");
            assertThat(trial.code()).as(trial.err()).isZero();
            assertThat(trial.out()).contains("\"responseTimeNanos\"").contains("\"lateNanos\"");
        } finally {
            Stream.concat(standIn.descendants(), Stream.of(standIn.toHandle())).toList()
                    .forEach(ProcessHandle::destroy);
            standIn.waitFor(10, TimeUnit.SECONDS);
        }
    }

    @Test
    void badInputIsToldWithoutATrace() throws Exception {
        Ended ended = kadrem("compare", folder.resolve("nowhere").toString());
        assertThat(ended.code()).isEqualTo(2);
        assertThat(ended.err()).contains("There is no study at").doesNotContain("Exception");
        assertThat(kadrem("help").out()).contains("measure STUDY").contains("standin NAME --port N");
    }
}
