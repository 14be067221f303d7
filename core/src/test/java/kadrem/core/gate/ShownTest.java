package kadrem.core.gate;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.List;
import java.util.Map;

import org.junit.jupiter.api.Test;

class ShownTest {
    /** Sequences of ECMA-48: a cursor that goes back, a title that is set, text that is concealed. */
    @Test
    void nothingThatATerminalObeysComesThrough() {
        String sly = "a\u001b[1A\u001b[2Kb\u001b]0;title\u0007c\u001b[8md\u0000e\u009b2Jf\rg\u202eh\u200bi\u2028j";
        assertThat(Shown.text(sly)).isEqualTo("a\\u001b[1A\\u001b[2Kb\\u001b]0;title\\u0007c\\u001b[8md\\u0000e"
                + "\\u009b2Jf\\u000dg\\u202eh\\u200bi\\u2028j");
        assertThat(Shown.text("two\nlines\r\nof\tMöwe 🛥 — 漢字")).isEqualTo("two\nlines\r\nof\tMöwe 🛥 — 漢字");
    }

    /** JSON (RFC 8259, section 7) writes the same characters in the same way. */
    @Test
    void aTextOfJsonStaysTheSameValue() {
        assertThat(Shown.text("{\"a\": \"\u0085\uDB40\uDC41\"}")).isEqualTo("{\"a\": \"\\u0085\\udb40\\udc41\"}");
    }

    @Test
    void twoLinesThatDifferAreShownDifferently() {
        Map<String, String> shown = new HashMap<>();
        for (String one : List.of("\n", "\\n", "\\\\n", "\\\n", "\u001b", "\\u001b", "\\\\u001b", "\\\u001b", "\\",
                "\\\\",
                "\\x", "\t", "\\t", "\r", "\\r", "a\\", "a\\\\")) {
            assertThat(shown.put(Shown.line(one), one)).as("%s", Shown.line(one)).isNull();
            assertThat(shown.put("word " + Shown.word(one), one)).as("%s", Shown.word(one)).isNull();
        }
    }

    /** As POSIX (Shell Command Language, 2.2) quotes. */
    @Test
    void aCommandIsShownAsOneWouldTypeIt() {
        assertThat(Shown.command(List.of("./serve.sh", "--port", "{{port}}", "a b", "it's", "", "$HOME;x")))
                .isEqualTo("./serve.sh --port {{port}} 'a b' 'it'\\''s' '' '$HOME;x'");
    }
}
