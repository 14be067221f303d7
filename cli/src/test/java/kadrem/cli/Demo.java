package kadrem.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;

/** The demo study as tests use it: read in place, changed only as a copy. */
final class Demo {
    static final Path SHIPPED = Path.of("../demo/harbour-berths");

    private Demo() {
    }

    /** Copies it into a folder that is not there yet. */
    static Path copy(Path target) throws IOException {
        try (Stream<Path> files = Files.walk(SHIPPED)) {
            for (Path file : files.toList()) {
                Path to = target.resolve(SHIPPED.relativize(file).toString());
                if (Files.isDirectory(file)) {
                    Files.createDirectories(to);
                } else {
                    Files.copy(file, to);
                }
            }
        }
        return target;
    }
}
