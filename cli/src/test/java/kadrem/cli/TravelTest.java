package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.fixtures.Schemas;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import picocli.CommandLine;

/** Results that leave a study and come back, as a user and a build type it. */
class TravelTest extends CommandLineTest {
    private static final Path DEMO = Demo.SHIPPED;

    @TempDir
    private Path folder;

    /** What was printed, valid against a published schema or a part of it. */
    private JsonNode json(String schema, String part) throws IOException {
        return Schemas.strictly(schema, part, new ObjectMapper().readTree(out.toString()));
    }

    private static void delete(Path folder) throws IOException {
        try (Stream<Path> files = Files.walk(folder)) {
            for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
                Files.delete(file);
            }
        }
    }

    @Test
    void exportDeleteImportCompareGivesTheSameBytes() throws Exception {
        Path study = Demo.copy(folder.resolve("study"));
        assertThat(kadrem("compare", study.toString(), "--format", "json")).isZero();
        String before = out.toString();
        String archive = folder.resolve("berths.zip").toString();
        assertThat(kadrem("export", study.toString(), "--zip", archive)).isZero();
        delete(study);
        assertThat(kadrem("import", archive, "--into", study.toString())).isZero();
        assertThat(out.toString()).contains("Unpacked Harbour berth board");
        assertThat(kadrem("compare", study.toString(), "--format", "json")).isZero();
        assertThat(out.toString()).isEqualTo(before);
        assertThat(kadrem("import", archive, "--into", study.toString())).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("is in use");
    }

    @Test
    void documentsAndFiguresAreWrittenWhereTheyAreWanted() throws Exception {
        String into = folder.resolve("out").toString();
        assertThat(kadrem("report", DEMO.toString(), "--as", "html,record", "--into", into)).isZero();
        assertThat(out.toString().lines()).containsExactly(into + "/report.html", into + "/decision.md");
        assertThat(kadrem("--quiet", "export", DEMO.toString(), "--data", into)).isZero();
        assertThat(out.toString()).isEmpty();
        assertThat(folder.resolve("out/runs.csv")).exists();
        assertThat(folder.resolve("out/latency")).isDirectoryContaining("glob:**/*.hlog");
        assertThat(kadrem("measure", DEMO.toString(), "--format", "json")).as("all is measured").isZero();
        assertThat(json("runs", "").path("runs")).hasSizeGreaterThan(20);
        assertThat(err.toString()).contains("rounds are measured").contains("the study is judged again at 20 rounds");
        assertThat(kadrem("export", DEMO.toString())).isEqualTo(Main.BAD_INPUT);
        assertThat(kadrem("report", DEMO.toString(), "--into", folder.resolve("out/runs.csv/x").toString()))
                .isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).startsWith("The report was not written: ");
    }

    @Test
    void aVerdictTellsABuildByItsCodeAndByATestReport() throws Exception {
        Path junit = folder.resolve("TEST-verdict.xml");
        assertThat(kadrem("verdict", DEMO.toString(), "--format", "json", "--junit", junit.toString())).isZero();
        JsonNode verdict = json("comparison", "verdict");
        assertThat(verdict.path("kind").asText()).isEqualTo("recommended");
        assertThat(Files.readString(junit)).contains("<testsuite").contains("p95 response time: ");

        Path study = Demo.copy(folder.resolve("study"));
        Path text = study.resolve("study.yaml");
        String asked = Files.readString(text);
        Files.writeString(text, asked.replace("limit: 9ms", "limit: 1ms"));
        assertThat(kadrem("verdict", study.toString())).isEqualTo(Main.MISSED);
        Files.writeString(text, asked.replace("significance: 0.05", "significance: 0.001"));
        assertThat(kadrem("verdict", study.toString())).isEqualTo(Main.NOT_SETTLED);
        Files.writeString(text, asked + "\nsoundness:\n  limits: {achieved-load: 100%, generator-cpu: 0.01%}\n");
        assertThat(kadrem("verdict", study.toString())).isEqualTo(Main.UNSOUND);
        delete(study.resolve("runs"));
        Files.writeString(text, asked);
        assertThat(kadrem("verdict", study.toString())).isEqualTo(Main.NOT_SETTLED);
        Files.writeString(text, asked.replace("metric: p95", "metric: p94"));
        assertThat(kadrem("verdict", study.toString())).isEqualTo(Main.BAD_INPUT);
    }

    @Test
    void aStudyIsCheckedWithoutSendingAnything() throws Exception {
        assertThat(kadrem("check", DEMO.toString())).isZero();
        assertThat(out.toString()).contains("can be used");
        assertThat(kadrem("check", DEMO.toString(), "--format", "json")).isZero();
        assertThat(json("check", "").path("usable").asBoolean()).isTrue();
        assertThat(kadrem("history", DEMO.toString(), "--metric", "p95", "--format", "json")).isZero();
        assertThat(json("versions", "").path("steps")).hasSize(2);
        Path study = Demo.copy(folder.resolve("study"));
        Path text = study.resolve("study.yaml");
        Files.writeString(text, Files.readString(text).replace("baseline: pool", "baseline: pond"));
        assertThat(kadrem("check", study.toString(), "--format", "json")).isEqualTo(Main.BAD_INPUT);
        JsonNode error = json("check", "").path("errors").path(0);
        assertThat(error.path("path").asText()).isEqualTo("question.baseline");
        assertThat(error.path("line").asInt()).isPositive();
        assertThat(error.path("mend").asText()).contains("pool");
        assertThat(kadrem("check", study.toString())).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("question.baseline");
    }

    /** The script is sourced by a real bash, and asked what it would complete. */
    @Test
    void bashCompletesCommandsAndOptions() throws Exception {
        assertThat(kadrem("completion")).isZero();
        Path script = Files.writeString(folder.resolve("kadrem.bash"), out.toString());
        for (String[] asked : new String[][]{{"kadrem verd", "verdict"}, {"kadrem verdict --ju", "--junit"}}) {
            String[] words = asked[0].split(" ");
            Process bash = new ProcessBuilder("bash", "-c", "source " + script + "; COMP_WORDS=(" + asked[0]
                    + "); COMP_CWORD=" + (words.length - 1) + "; _complete_kadrem kadrem " + words[words.length - 1]
                    + "; echo \"${COMPREPLY[@]}\"").redirectErrorStream(true).start();
            String reply = new String(bash.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
            assertThat(bash.waitFor(20, TimeUnit.SECONDS)).isTrue();
            assertThat(reply).contains(asked[1]);
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"new", "allow", "import", "record", "rehearse", "watch", "measure", "floor", "compare",
            "verdict", "regress", "history",
            "report", "export", "check", "completion", "try"})
    void everyCommandExplainsItself(String command) {
        assertThat(kadrem(command, "--help")).isZero();
        assertThat(out.toString()).startsWith("Usage: kadrem " + command).contains("--quiet");
    }

    /** docs/build.md shows pipelines; every command in them is one that there is, with options that it has. */
    @Test
    void thePipelinesInTheDocumentationUseCommandsThatThereAre() throws Exception {
        List<String> commands = Files.readAllLines(Path.of("../docs/build.md")).stream().map(String::strip)
                .map(line -> line.replaceFirst("^(- )?(run: |script: )?", ""))
                .filter(line -> line.startsWith("./kadrem "))
                .toList();
        assertThat(commands).hasSizeGreaterThan(6);
        for (String command : commands) {
            String[] words = command.substring("./kadrem ".length()).replaceAll("\\s+#.*", "")
                    .replaceAll(" \\|\\| .*", "")
                    .split(" ");
            CommandLine.ParseResult parsed = Main.commandLine().parseArgs(words);
            assertThat(parsed.hasSubcommand()).as(command).isTrue();
        }
    }
}
