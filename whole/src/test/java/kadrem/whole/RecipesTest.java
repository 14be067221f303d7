package kadrem.whole;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

import kadrem.core.study.Metric;
import kadrem.core.study.Protocols;
import kadrem.core.study.SoundnessRule;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** The recipes of docs/architecture.md: what they say must be touched is touched for everything that is there. */
@Timeout(value = 60, unit = TimeUnit.SECONDS)
class RecipesTest {
    private static final Path ROOT = Path.of("..");
    private static final List<String> MODULES = List.of("core", "figures", "load", "files", "work", "cli", "desk",
            "standins", "fixtures");
    private static final Pattern NAMED = Pattern.compile("`([A-Z][A-Za-z0-9]+)(?:\\.[a-zA-Z]\\w*)?`");
    private static final Pattern TYPE = Pattern.compile("\\b(?:class|interface|record|enum)\\s+([A-Z]\\w*)");

    private static String read(String file) throws IOException {
        return Files.readString(ROOT.resolve(file));
    }

    @Test
    void everyTypeThatTheArchitectureNamesIsThere() throws IOException {
        Set<String> types = new TreeSet<>();
        for (String module : Stream.concat(MODULES.stream(), Stream.of("whole")).toList()) {
            try (Stream<Path> files = Files.walk(ROOT.resolve(module).resolve("src"))) {
                for (Path file : files.filter(one -> one.toString().endsWith(".java")).toList()) {
                    Matcher matcher = TYPE.matcher(Files.readString(file));
                    while (matcher.find()) {
                        types.add(matcher.group(1));
                    }
                }
            }
        }
        Set<String> named = new TreeSet<>();
        Matcher matcher = NAMED.matcher(read("docs/architecture.md"));
        while (matcher.find()) {
            named.add(matcher.group(1));
        }
        // of the platform
        named.remove("ServiceLoader");
        assertThat(named).hasSizeGreaterThan(60);
        named.removeAll(types);
        assertThat(named).as("named, and nowhere to be found").isEmpty();
    }

    /** A file that is read in one go: below 400 lines, and below 300 unless its first sentence says why not. */
    @Test
    void noFileIsTooLong() throws IOException {
        for (String module : MODULES) {
            try (Stream<Path> files = Files.walk(ROOT.resolve(module).resolve("src/main"))) {
                for (Path file : files.filter(one -> one.toString().endsWith(".java")).toList()) {
                    List<String> lines = Files.readAllLines(file);
                    assertThat(lines.size()).as("lines of %s", file).isLessThanOrEqualTo(400);
                    assertThat(lines.size() <= 300
                            || String.join("", lines).replaceAll("\\s*\\* +", " ").contains("; one file, since"))
                            .as("%s says why it is one file", file).isTrue();
                }
            }
        }
    }

    @Test
    void aMetricIsInGrammarAndTables() throws IOException {
        String schema = read("docs/schemas/study.schema.json");
        String fields = read("docs/study-fields.md");
        for (Metric metric : Metric.all()) {
            assertThat(schema).as("study.yaml").contains("\"" + metric.id() + "\"");
            assertThat(fields).as("tables of fields").contains(metric.id());
            assertThat(metric.usualMargin().size()).isPositive();
        }
    }

    @Test
    void aRuleOfSoundnessIsInGrammarAndMethods() throws IOException {
        String schema = read("docs/schemas/study.schema.json");
        String methods = read("docs/methods.md");
        for (SoundnessRule rule : SoundnessRule.values()) {
            assertThat(schema).as("its limit").contains("\"" + rule.id() + "\"");
            assertThat(methods).as("methods").containsIgnoringCase(rule.label());
        }
    }

    @Test
    void aProtocolIsInGrammarAndDocuments() throws IOException {
        String schema = read("docs/schemas/study.schema.json");
        String documents = read("docs/protocols.md");
        assertThat(Protocols.all()).hasSizeGreaterThan(10).allSatisfy(protocol -> {
            assertThat(documents).containsIgnoringCase(protocol.id());
            protocol.settings().forEach(field -> assertThat(schema).contains("\"" + field.name() + "\""));
            protocol.fields().forEach(field -> assertThat(schema).contains("\"" + field.name() + "\""));
        });
    }
}
