package kadrem.whole;

import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import kadrem.fixtures.Schemas;
import org.junit.jupiter.api.Test;

/** What ships follows the schemas that ship with it. */
class SchemasTest {
    private static final Path HOME = Path.of("..");
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final ObjectMapper YAML = new ObjectMapper(new YAMLFactory());

    @Test
    void theDemoStudyItsRunsAndItsRehearsal() throws IOException {
        Path demo = HOME.resolve("demo/harbour-berths");
        Schemas.openly("study", YAML.readTree(demo.resolve("study.yaml").toFile()));
        Schemas.strictly("rehearsal", JSON.readTree(demo.resolve("rehearsal.json").toFile()));
        try (Stream<Path> runs = Files.list(demo.resolve("runs"))) {
            for (Path folder : runs.toList()) {
                Schemas.strictly("run", JSON.readTree(folder.resolve("run.json").toFile()));
            }
        }
    }

    /** The example of docs/formats.md is itself a study by the schema, and mistakes in it are none. */
    @Test
    void theExampleOfTheDocumentation() throws IOException {
        String text = Files.readString(HOME.resolve("docs/formats.md"));
        int from = text.indexOf("```yaml\n") + "```yaml\n".length();
        JsonNode example = YAML.readTree(text.substring(from, text.indexOf("```", from)));
        Schemas.openly("study", example);
        for (String mistake : List.of("{\"signIn\": {\"bearer\": \"plain-secret\"}}",
                "{\"load\": {\"model\": \"half\"}}",
                "{\"rehearsal\": {\"ignoreJson\": [\"a.b\"]}}")) {
            JsonNode spoiled = JSON.readerForUpdating(example.deepCopy()).readValue(mistake);
            assertThatThrownBy(() -> Schemas.openly("study", spoiled)).as(mistake)
                    .hasMessageStartingWith("against its schema");
        }
    }
}
