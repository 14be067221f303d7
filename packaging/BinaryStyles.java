import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;

import javafx.css.Stylesheet;

/** Writes each style sheet of a folder in JavaFX's binary form beside it, which a start need not parse: BinaryStyles FOLDER. */
final class BinaryStyles {
    private BinaryStyles() {
    }

    public static void main(String[] arguments) throws IOException {
        try (Stream<Path> files = Files.list(Path.of(arguments[0]))) {
            for (Path css : files.filter(file -> file.toString().endsWith(".css")).toList()) {
                Stylesheet.convertToBinary(css.toFile(), new File(css.toString().replaceAll("css$", "bss")));
            }
        }
    }
}
