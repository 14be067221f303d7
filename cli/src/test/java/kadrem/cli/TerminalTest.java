package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What others wrote moves no cursor, sets no title and hides nothing. */
class TerminalTest extends CommandLineTest {
    @TempDir
    private Path folder;

    @Test
    void onlyTheProgramItselfGoesBackInALine() {
        var printed = new StringWriter();
        PrintWriter out = Terminal.on(printed);
        out.print("berth \u001b[2K\r7");
        Terminal.again(out);
        out.println("gone");
        assertThat(printed.toString()).isEqualTo("berth \\u001b[2K\\u000d7\r\u001b[2Kgone" + System.lineSeparator());
    }

    @Test
    void aStudyThatHidesItsCommandIsShownAsItIs() throws Exception {
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: "Berths\\e]0;all is well\\a"
                question: {text: "Which?", decide: [{metric: p50, margin: 10%}]}
                candidates:
                  - id: a
                    address: http://127.0.0.1:18081
                    launch: {command: [sh, -c, "rm -r ~\\e[8m"]}
                  - id: b
                    address: http://127.0.0.1:18082
                workload: {visits: [{name: v, calls: [{name: c, path: /x}]}]}
                load: {model: open, arrivalsPerSecond: 50, measured: 4s}
                """);
        assertThat(kadrem("check", folder.toString())).as("%s%s", out, err).isZero();
        assertThat(kadrem("allow", folder.toString())).isEqualTo(Main.BAD_INPUT);
        assertThat(out.toString()).contains("a, launch: sh -c $'rm -r ~\\u001b[8m'")
                .contains("b, load: http://127.0.0.1:18082").doesNotContain("\u001b");
        assertThat(kadrem("measure", folder.toString())).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("Nothing was measured").doesNotContain("\u001b");
    }

    /** What was allowed holds until the study is changed; what is new is told alone, and what is gone beside it. */
    @Test
    void theWordForAStudyIsAskedGivenListedAndTakenBack() throws Exception {
        String study = """
                kadrem: 1
                name: Berths
                question: {text: "Which?", decide: [{metric: p50, margin: 10%%}]}
                candidates:
                  - {id: a, address: "http://127.0.0.1:18081", launch: {command: [./a.sh]}}
                  - {id: b, address: "http://127.0.0.1:18082", launch: {command: [%s]}}
                workload: {visits: [{name: v, calls: [{name: c, path: /x}]}]}
                load: {model: open, arrivalsPerSecond: 50, measured: 4s}
                """;
        Path file = folder.resolve("study.yaml");
        Files.writeString(file, study.formatted("./b.sh"));
        assertThat(kadrem("allow", "--yes", "0".repeat(64), folder.toString())).isEqualTo(Main.BAD_INPUT);
        assertThat(out.toString()).contains("This is not what --yes names. Nothing was allowed.");
        allow(folder.toString());
        assertThat(kadrem("allow", folder.toString())).isZero();
        assertThat(out.toString()).contains("There is nothing that waits for your word.");
        Files.writeString(file, study.formatted("./other.sh"));
        assertThat(kadrem("allow", folder.toString())).isEqualTo(Main.BAD_INPUT);
        assertThat(out.toString()).contains("has changed since you allowed it").contains("b, launch: ./other.sh")
                .containsSubsequence("It would no longer:", "launch: ./b.sh").doesNotContain("a, launch: ./a.sh");
        assertThat(kadrem("allow", "--list")).isZero();
        assertThat(out.toString()).contains(folder.toRealPath() + "   allowed since ").contains("  launch: ./b.sh");
        assertThat(kadrem("allow", "--withdraw", folder.toString())).isZero();
        assertThat(kadrem("allow", folder.toString())).isEqualTo(Main.BAD_INPUT);
        assertThat(out.toString()).contains("a, launch: ./a.sh").contains("b, launch: ./other.sh");
        assertThat(kadrem("allow", "--own", folder.toString())).isZero();
        Files.writeString(file, study.formatted("./third.sh"));
        assertThat(kadrem("allow", folder.toString())).as("yours, whatever is written into it").isZero();
        refused("Give one of --yes, --own and --withdraw.", "allow", "--own", "--withdraw", folder.toString());
        refused("is neither a study here nor a host", "allow", "http://board.example/");
    }
}
