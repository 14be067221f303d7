package kadrem.files.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import java.util.Optional;

import org.junit.jupiter.api.Test;

/** Edits of a text by its top-level groups. */
class SectionTextTest {
    private static final String TEXT = """
            # about the file
            one: {a: 1, b: [x, y]}

            # about two
            two:
              # inside two
              c: "1"
              list:
                - k: v
            # about three
            three: 3
            """;

    private static String with(String text, Edit edit) throws Exception {
        return SectionText.with(text, (YamlNode.Mapping) YamlTree.read(text), edit);
    }

    @Test
    void whatStandsAroundAGroupStaysToTheLetter() throws Exception {
        String changed = with(TEXT, new Edit.Put("two", Map.of("d", Optional.of("new: text"))));
        assertThat(changed).startsWith("# about the file\none: {a: 1, b: [x, y]}\n\n# about two\ntwo:\n")
                .endsWith("# about three\nthree: 3\n").contains("c: \"1\"").contains("d: \"new: text\"")
                .doesNotContain("inside two");
        assertThat(with(changed, new Edit.Put("two", Map.of("d", Optional.empty())))).doesNotContain("new: text");
    }

    @Test
    void theLastGroupAndAMissingOneAreWritten() throws Exception {
        assertThat(with(TEXT, new Edit.Put("", Map.of("three", Optional.of(List.of("p", "q")))))).startsWith(
                TEXT.substring(0, TEXT.indexOf("three: 3"))).endsWith("three:\n  - p\n  - q\n");
        assertThat(with(TEXT.strip(), new Edit.Insert("four.items", 0, Map.of("a", 1))))
                .endsWith("three: 3\nfour:\n  items:\n    - a: 1\n");
    }

    @Test
    void itemsAreInsertedMovedAndRemoved() throws Exception {
        String two = with(TEXT, new Edit.Insert("two.list", 1, Map.of("k", "w")));
        assertThat(two).contains("- k: v\n    - k: w\n");
        assertThat(with(two, new Edit.Move("two.list", 0, 1))).contains("- k: w\n    - k: v\n");
        assertThat(with(two, new Edit.Remove("two.list", 0))).contains("- k: w\n").doesNotContain("k: v");
        assertThat(with(TEXT, new Edit.Put("two.list[0]", Map.of("k", Optional.of(List.of("1", "true"))))))
                .as("texts that look like numbers stay texts").contains("- \"1\"").contains("- \"true\"");
    }

    @Test
    void placesThatAreNotThereAreTold() {
        assertThatThrownBy(() -> with(TEXT, new Edit.Put("two.list[3]", Map.of())))
                .hasMessageContaining("no such place");
        assertThatThrownBy(() -> with(TEXT, new Edit.Put("two.list", Map.of()))).hasMessageContaining("not a group");
        assertThatThrownBy(() -> with(TEXT, new Edit.Remove("two", 0))).hasMessageContaining("not a list");
    }
}
