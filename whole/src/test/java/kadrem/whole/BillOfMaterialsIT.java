package kadrem.whole;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import org.junit.jupiter.api.Test;

/** The bill of materials (CycloneDX, ECMA-424) names what ships and nothing else; {@code kadrem bill} writes it anew. Runs after packaging. */
class BillOfMaterialsIT {
    private static final Path HOME = Path.of("..");

    private static TreeSet<String> shipped() throws IOException {
        var jars = new TreeSet<String>();
        for (String program : List.of("desk", "cli", "standins")) {
            try (Stream<Path> files = Files.list(HOME.resolve(program).resolve("target/lib"))) {
                files.map(file -> file.getFileName().toString()).filter(name -> !name.startsWith("kadrem-"))
                        .forEach(jars::add);
            }
        }
        return jars;
    }

    private static Map<String, JsonNode> named() throws IOException {
        var components = new TreeMap<String, JsonNode>();
        JsonNode bill = new ObjectMapper().readTree(HOME.resolve("packaging/bill-of-materials.json").toFile());
        assertThat(bill.path("bomFormat").asText()).isEqualTo("CycloneDX");
        bill.path("components").forEach(one -> {
            if (!one.path("group").asText().equals("kadrem")) {
                components.put(one.path("name").asText() + "-" + one.path("version").asText(), one);
            }
        });
        return components;
    }

    @Test
    void theBillNamesWhatShips() throws Exception {
        Map<String, JsonNode> named = named();
        assertThat(shipped()).isNotEmpty().allMatch(
                jar -> named.keySet().stream()
                        .anyMatch(name -> jar.equals(name + ".jar") || jar.startsWith(name + "-")),
                "is in the bill; write it anew with: kadrem bill");
        // a module by itself may ask for another version than all together do
        TreeSet<String> jars = shipped();
        assertThat(named.values()).extracting(one -> one.path("name").asText())
                .allMatch(name -> jars.stream().anyMatch(jar -> jar.startsWith(name + "-")),
                        "is shipped; write the bill anew with: kadrem bill");
    }

    /** Every part says under which licence it may be passed on. */
    @Test
    void everyPartHasALicence() throws Exception {
        assertThat(named().values()).allMatch(one -> !one.path("licenses").isEmpty());
    }
}
