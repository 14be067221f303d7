package kadrem.load.content;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import org.junit.jupiter.api.Test;

/** What ships follows the schemas that ship with it. */
class SchemasTest {
    private static final Path HOME = Path.of("..");
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final ObjectMapper YAML = new ObjectMapper(new YAMLFactory());

    private static JsonSchema schema(String name) throws IOException {
        return JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012)
                .getSchema(Files.readString(HOME.resolve("docs/schemas/" + name + ".schema.json")));
    }

    @Test
    void theDemoStudyItsRunsAndItsRehearsal() throws IOException {
        Path demo = HOME.resolve("demo/harbour-berths");
        assertThat(schema("study").validate(YAML.readTree(demo.resolve("study.yaml").toFile()))).isEmpty();
        assertThat(schema("rehearsal").validate(JSON.readTree(demo.resolve("rehearsal.json").toFile()))).isEmpty();
        JsonSchema run = schema("run");
        try (Stream<Path> runs = Files.list(demo.resolve("runs"))) {
            for (Path folder : runs.toList()) {
                assertThat(run.validate(JSON.readTree(folder.resolve("run.json").toFile()))).as(folder.toString())
                        .isEmpty();
            }
        }
    }

    /** The example of docs/formats.md is itself a study by the schema, and mistakes in it are none. */
    @Test
    void theExampleOfTheDocumentation() throws IOException {
        String text = Files.readString(HOME.resolve("docs/formats.md"));
        int from = text.indexOf("```yaml\n") + "```yaml\n".length();
        JsonNode example = YAML.readTree(text.substring(from, text.indexOf("```", from)));
        assertThat(schema("study").validate(example)).isEmpty();
        for (String mistake : List.of("{\"signIn\": {\"bearer\": \"plain-secret\"}}",
                "{\"load\": {\"model\": \"half\"}}",
                "{\"rehearsal\": {\"ignoreJson\": [\"a.b\"]}}")) {
            JsonNode spoiled = JSON.readerForUpdating(example.deepCopy()).readValue(mistake);
            assertThat(schema("study").validate(spoiled)).as(mistake).isNotEmpty();
        }
    }
}
