package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;

import picocli.CommandLine;

/** Commands as they are typed, and what the last one printed. */
abstract class CommandLineTest {
    final StringWriter out = new StringWriter();
    final StringWriter err = new StringWriter();

    /** @return the exit code */
    int kadrem(String... arguments) {
        out.getBuffer().setLength(0);
        err.getBuffer().setLength(0);
        CommandLine line = Main.commandLine();
        line.setOut(new PrintWriter(out, true));
        line.setErr(new PrintWriter(err, true));
        return line.execute(arguments);
    }

    /** Bad input: nothing is printed but why. */
    void refused(String why, String... arguments) {
        assertThat(kadrem(arguments)).as(why).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains(why).doesNotContain("Exception");
        assertThat(out.toString()).isEmpty();
    }
}
