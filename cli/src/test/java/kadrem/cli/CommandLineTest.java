package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.StringWriter;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

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
        line.setOut(Terminal.on(out));
        line.setErr(Terminal.on(err));
        return line.execute(arguments);
    }

    /** Gives the user's word for a study as a build does: by the digest of what it would do. */
    void allow(String study) {
        assertThat(kadrem("allow", study)).as("nobody is there to be asked").isEqualTo(Main.BAD_INPUT);
        Matcher digest = Pattern.compile("would do is ([0-9a-f]{64})").matcher(out.toString());
        assertThat(digest.find()).as(out.toString()).isTrue();
        assertThat(kadrem("allow", "--yes", digest.group(1), study)).as(out.toString()).isZero();
    }

    /** Bad input: nothing is printed but why. */
    void refused(String why, String... arguments) {
        assertThat(kadrem(arguments)).as(why).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains(why).doesNotContain("Exception");
        assertThat(out.toString()).isEmpty();
    }
}
