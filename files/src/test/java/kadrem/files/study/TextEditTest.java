package kadrem.files.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.yaml.snakeyaml.LoaderOptions;
import org.yaml.snakeyaml.Yaml;
import org.yaml.snakeyaml.events.CommentEvent;

/** Edits of a text: what they touch is changed, and everything else stays to the letter. */
class TextEditTest {
    private static final String TEXT = """
            # about the file
            one: {a: 1, b: [x, y]}   # one line

            # about two
            two:
              # inside two
              c: "1"   # a text
              list:   # in order
                # the first
                - k: v
                  # of v
                  m: |-
                    # no comment
                    body
                # the second
                - k: w
              # behind the list
            # about three
            three: 3
            """;

    private static String with(Edit edit) throws Exception {
        return TextEdit.with(TEXT, edit);
    }

    private static Map<String, Optional<Object>> fields(String name, Object value) {
        return Map.of(name, Optional.of(value));
    }

    private static Map<String, Optional<Object>> without(String name) {
        return Map.of(name, Optional.empty());
    }

    @Test
    void aValueIsReplacedInItsPlace() throws Exception {
        assertThat(with(new Edit.Put("two", fields("c", "2")))).isEqualTo(TEXT.replace("\"1\" ", "\"2\" "));
        assertThat(with(new Edit.Put("", fields("three", 4)))).isEqualTo(TEXT.replace("three: 3", "three: 4"));
        assertThat(with(new Edit.Put("one", fields("a", "x, y")))).isEqualTo(TEXT.replace("a: 1", "a: 'x, y'"));
        assertThat(with(new Edit.Put("two.list[0]", fields("m", "one\ntwo"))))
                .isEqualTo(TEXT.replace("        # no comment\n        body\n", "        one\n        two\n"));
        assertThat(with(new Edit.Put("", fields("three", List.of("p", "q")))))
                .isEqualTo(TEXT.replace("three: 3\n", "three:\n  - p\n  - q\n"));
    }

    @Test
    void fieldsAreAddedAndRemoved() throws Exception {
        assertThat(with(new Edit.Put("two", fields("d", "new: text"))))
                .isEqualTo(TEXT.replace("    - k: w\n", "    - k: w\n  d: 'new: text'\n"));
        assertThat(with(new Edit.Put("one", fields("c", true)))).isEqualTo(TEXT.replace("y]}", "y], c: true}"));
        assertThat(with(new Edit.Put("one", without("a")))).isEqualTo(TEXT.replace("a: 1, ", ""));
        assertThat(with(new Edit.Put("one", without("b")))).isEqualTo(TEXT.replace(", b: [x, y]", ""));
        assertThat(with(new Edit.Put("two", without("c")))).isEqualTo(TEXT.replace("  c: \"1\"   # a text\n", ""));
        assertThat(with(new Edit.Put("two.list[0]", without("k")))).as("a comment stands behind it")
                .isEqualTo(TEXT.replace("    - k: v\n", "    -\n"));
        assertThat(with(new Edit.Put("two.list[1]", without("k")))).isEqualTo(TEXT.replace("- k: w", "- {}"));
        assertThat(with(new Edit.Put("four", without("k")))).isEqualTo(TEXT);
    }

    @Test
    void groupsThatAreMissingAreMade() throws Exception {
        assertThat(with(new Edit.Insert("four.items", 0, Map.of("a", 1))))
                .isEqualTo(TEXT + "four:\n  items:\n    - a: 1\n");
        assertThat(TextEdit.with("a: 1", new Edit.Put("b", fields("c", "d")))).isEqualTo("a: 1\nb:\n  c: d");
        assertThat(TextEdit.with("a:\nb: 1\n", new Edit.Put("a", fields("c", "d")))).isEqualTo("a:\n  c: d\nb: 1\n");
        assertThat(TextEdit.with("a: []\nb: {}\n", new Edit.Insert("a", 0, Map.of("k", List.of("v")))))
                .isEqualTo("a:\n  - k:\n      - v\nb: {}\n");
    }

    @Test
    void itemsAreInsertedMovedRemovedAndCopied() throws Exception {
        String second = "    # the second\n    - k: w\n";
        String first = "    - k: v\n      # of v\n      m: |-\n        # no comment\n        body\n";
        assertThat(with(new Edit.Insert("two.list", 1, Map.of("k", "x"))))
                .isEqualTo(TEXT.replace(second, "    - k: x\n" + second));
        assertThat(with(new Edit.Insert("two.list", 2, Map.of("k", List.of("1", "true")))))
                .as("texts that look like numbers stay texts")
                .isEqualTo(TEXT.replace(second, second + "    - k:\n        - '1'\n        - 'true'\n"));
        assertThat(with(new Edit.Move("two.list", 1, 0))).as("with its comment")
                .isEqualTo(TEXT.replace(first + second, second + first));
        assertThat(with(new Edit.Move("two.list", 0, 1))).isEqualTo(TEXT.replace(first + second, second + first));
        assertThat(with(new Edit.Remove("two.list", 1))).isEqualTo(TEXT.replace(second, ""));
        assertThat(with(new Edit.Copy("two.list", 0, 1, fields("k", "v2"))))
                .isEqualTo(TEXT.replace(first, first + first.replace("k: v", "k: v2")));
        assertThat(with(new Edit.Remove("one.b", 0))).isEqualTo(TEXT.replace("[x, y]", "[y]"));
        assertThat(with(new Edit.Insert("one.b", 0, "a b"))).isEqualTo(TEXT.replace("[x, y]", "[a b, x, y]"));
        assertThat(with(new Edit.Move("one.b", 0, 1))).isEqualTo(TEXT.replace("[x, y]", "[y, x]"));
    }

    @Test
    void aListThatIsGivenAnewIsChangedWhereItDiffers() throws Exception {
        var first = new LinkedHashMap<String, Object>();
        first.put("k", "v");
        first.put("m", "# no comment\nbody");
        assertThat(with(new Edit.Put("two", fields("list", List.of(first, Map.of("k", "z"))))))
                .isEqualTo(TEXT.replace("- k: w", "- k: z"));
        assertThat(with(new Edit.Put("two", fields("list", List.of(first)))))
                .isEqualTo(TEXT.replace("    # the second\n    - k: w\n", ""));
        assertThat(with(new Edit.Put("two", fields("list", List.of()))))
                .contains("# in order\n    # the first\n    []\n");
    }

    @Test
    void placesThatAreNotThereAreTold() {
        assertThatThrownBy(() -> with(new Edit.Put("two.list[3]", Map.of()))).hasMessageContaining("no such place");
        assertThatThrownBy(() -> with(new Edit.Put("two.list", Map.of()))).hasMessageContaining("not a group");
        assertThatThrownBy(() -> with(new Edit.Remove("two", 0))).hasMessageContaining("not a list");
        assertThatThrownBy(() -> with(new Edit.Remove("two.list", 2))).hasMessageContaining("no such item");
        assertThatThrownBy(() -> with(new Edit.Insert("two.list", 9, "x"))).hasMessageContaining("no such item");
    }

    @Test
    void whatACommentWouldBecomePartOfIsWrittenInOneLine() throws Exception {
        String odd = "a:\n  b: 1\n        # far to the right\nc: 2\n";
        assertThat(TextEdit.with(odd, new Edit.Put("a", fields("d", "one\ntwo"))))
                .isEqualTo("a:\n  b: 1\n  d: \"one\\ntwo\"\n        # far to the right\nc: 2\n");
    }

    @Test
    void linesThatEndAsElsewhereAndSignsOfTwoCharactersStay() throws Exception {
        String text = "a: \"🌊\"   # 🌊\r\nb:\r\n  - x\r\n  - y\r\n";
        assertThat(TextEdit.with(text, new Edit.Insert("b", 1, Map.of("k", "z"))))
                .isEqualTo(text.replace("  - y", "  - k: z\r\n  - y"));
        assertThat(TextEdit.with(text, new Edit.Put("", fields("a", "🌊🌊"))))
                .isEqualTo(text.replace("\"🌊\"", "\"🌊🌊\""));
    }

    // ---- many edits at random ---------------------------------------------------------------------------------------

    static Stream<Path> samples() throws Exception {
        try (Stream<Path> folders = Files.list(Path.of("../demo"))) {
            return folders.map(folder -> folder.resolve(StudyFile.NAME)).filter(Files::isRegularFile).sorted().toList()
                    .stream();
        }
    }

    private static final List<Object> VALUES = List.of("plain", "30s", "5%", "9", "true", "a, b", "# hash", "x: y",
            "say \"so\"", "it's", "{{env:NAME}}", "one\ntwo\n", "  led", "tab\there", "", 7, 2.5, false,
            List.of("p", "q"), List.of(), Map.of("k", "v"), Map.of("k", List.of(Map.of("n", "1\n2"))), Map.of());

    /** A random edit of a place that is there. */
    private static Edit edit(Map<String, Object> root, Random random) {
        var places = new ArrayList<Map.Entry<String, Object>>();
        collect("", root, places);
        Map.Entry<String, Object> place = places.get(random.nextInt(places.size()));
        Object value = VALUES.get(random.nextInt(VALUES.size()));
        if (place.getValue() instanceof Map<?, ?> map) {
            List<String> names = map.keySet().stream().map(String::valueOf).toList();
            String name = names.isEmpty() || random.nextInt(4) == 0
                    ? "x-" + random.nextInt(1000)
                    : names.get(random.nextInt(names.size()));
            boolean gone = map.size() > 1 && random.nextInt(4) == 0;
            return new Edit.Put(place.getKey(), gone ? without(name) : fields(name, value));
        }
        int size = ((List<?>) place.getValue()).size();
        int index = size == 0 ? 0 : random.nextInt(size);
        return switch (size == 0 ? 0 : random.nextInt(4)) {
            case 0 -> new Edit.Insert(place.getKey(), random.nextInt(size + 1), value);
            case 1 -> new Edit.Remove(place.getKey(), index);
            case 2 -> new Edit.Move(place.getKey(), index, random.nextInt(size));
            default -> new Edit.Copy(place.getKey(), index, random.nextInt(size + 1), Map.of());
        };
    }

    private static void collect(String path, Object node, Collection<Map.Entry<String, Object>> places) {
        if (node instanceof Map<?, ?> map) {
            places.add(Map.entry(path, node));
            map.forEach((name, value) -> {
                // a name with a dot cannot be part of a path
                if (String.valueOf(name).matches("[A-Za-z0-9_-]+")) {
                    collect(path.isEmpty() ? String.valueOf(name) : path + "." + name, value, places);
                }
            });
        } else if (node instanceof List<?> list) {
            places.add(Map.entry(path, node));
            for (int i = 0; i < list.size(); i++) {
                collect(path + "[" + i + "]", list.get(i), places);
            }
        }
    }

    /** All comments of a text as a YAML library finds them. */
    private static List<String> comments(String text) {
        var comments = new ArrayList<String>();
        new Yaml(new LoaderOptions().setProcessComments(true)).parse(new java.io.StringReader(text)).forEach(event -> {
            if (event instanceof CommentEvent comment && !comment.getValue().isBlank()) {
                comments.add(comment.getValue().strip());
            }
        });
        return comments;
    }

    private static Object plain(JsonNode node) {
        if (node.isObject()) {
            var map = new LinkedHashMap<String, Object>();
            node.properties().forEach(entry -> map.put(entry.getKey(), plain(entry.getValue())));
            return map;
        }
        if (node.isArray()) {
            var list = new ArrayList<Object>();
            node.forEach(item -> list.add(plain(item)));
            return list;
        }
        return node.isNull() ? "" : node.asText();
    }

    @ParameterizedTest
    @MethodSource("samples")
    void commentsOrderAndEverythingElseSurviveAnyEdit(Path sample) throws Exception {
        var random = new Random(19);
        var reader = new ObjectMapper(new YAMLFactory());
        String original = Files.readString(sample);
        String text = original;
        for (int i = 0; i < 300; i++) {
            if (i % 30 == 0) {
                text = original;
            }
            @SuppressWarnings("unchecked")
            var wanted = (Map<String, Object>) PlainTree.of(YamlTree.read(text));
            Edit edit = edit(wanted, random);
            boolean takesAway = edit instanceof Edit.Remove
                    || edit instanceof Edit.Put put && isGroup(wanted, put);
            PlainTree.apply(wanted, edit);
            String after = TextEdit.with(text, edit);
            assertThat(PlainTree.of(YamlTree.read(after)).toString()).as("%s in order", edit)
                    .isEqualTo(wanted.toString());
            assertThat(text(plain(reader.readTree(after)))).as("%s as another reader has it", edit)
                    .isEqualTo(text(wanted));
            List<String> lost = new ArrayList<>(comments(text));
            comments(after).forEach(lost::remove);
            assertThat(takesAway ? List.of() : lost).as("comments lost by %s", edit).isEmpty();
            text = after;
        }
    }

    /** A number's way of being written is a reader's own: 0.50 and 0.5. */
    private static String text(Object plain) {
        return plain.toString().replaceAll("\\b(\\d+\\.\\d*?[1-9])0+\\b", "$1");
    }

    /** Whether the edit takes a field away, or writes something in the place of a whole group or list, whose comments go. */
    @SuppressWarnings("unchecked")
    private static boolean isGroup(Map<String, Object> root, Edit.Put put) {
        Object node = root;
        for (Object step : PlainTree.steps(put.path())) {
            node = step instanceof Integer index
                    ? ((List<Object>) node).get(index)
                    : ((Map<String, Object>) node).get(step);
        }
        Map<String, Object> group = (Map<String, Object>) node;
        return put.fields().entrySet().stream().anyMatch(
                field -> field.getValue().isEmpty() || !(group.getOrDefault(field.getKey(), "") instanceof String));
    }
}
