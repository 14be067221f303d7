package kadrem.desk.frame;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

import kadrem.load.gate.Consent;

/** The studies that ship with Kadrem. They stay as they are: whoever looks at one gets a copy. */
final class ShippedStudies {
    private static final String FILE = "study.yaml";

    private ShippedStudies() {
    }

    /**
     * A study.
     *
     * @param id name of its folder
     * @param question what it decides
     */
    record Shipped(String id, String name, String question, Path folder) {

        /** The user's copy, made where there is none yet. */
        Path copy() throws IOException {
            Path target = ofUser().resolve("demo").resolve(id);
            if (!Files.exists(target.resolve(FILE))) {
                try (var paths = Files.walk(folder)) {
                    for (Path path : paths.toList()) {
                        Path to = target.resolve(folder.relativize(path).toString());
                        if (Files.isDirectory(path)) {
                            Files.createDirectories(to);
                        } else if (!path.equals(folder.resolve(FILE))) {
                            Files.copy(path, to, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
                        }
                    }
                }
                // the last to be there: a copy that was cut off is made again
                Files.copy(folder.resolve(FILE), target.resolve(FILE));
                // it came with Kadrem itself
                Consent.ofUser().own(target);
            }
            return target;
        }
    }

    /** Where Kadrem keeps studies that nobody gave a folder of their own. */
    static Path ofUser() {
        Map<String, String> environment = System.getenv();
        return Path.of(environment.getOrDefault("XDG_DATA_HOME", System.getProperty("user.home", "") + "/.local/share"),
                "kadrem");
    }

    /** In the order of their names; none where Kadrem runs without its folder. */
    static List<Shipped> all() {
        Path demo = Path.of(System.getProperty("kadrem.home", ""), "demo");
        var found = new ArrayList<Shipped>();
        if (Files.isDirectory(demo)) {
            try (var folders = Files.list(demo)) {
                for (Path folder : folders.filter(one -> Files.isRegularFile(one.resolve(FILE))).sorted().toList()) {
                    found.add(new Shipped(folder.getFileName().toString(), line(folder.resolve(FILE), "name:"),
                            line(folder.resolve(FILE), "text:"), folder));
                }
            } catch (IOException _) {
                // as if there were none
            }
        }
        return List.copyOf(found);
    }

    /** What stands behind the first field of that name. */
    private static String line(Path study, String field) throws IOException {
        try (var lines = Files.lines(study)) {
            return lines.map(String::strip).filter(line -> line.startsWith(field)).findFirst()
                    .map(line -> line.substring(field.length()).strip()).orElse(String.valueOf(study.getParent()));
        }
    }
}
