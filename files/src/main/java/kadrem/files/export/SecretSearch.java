package kadrem.files.export;

import java.io.BufferedInputStream;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;

import kadrem.core.gate.Credentials;

/** Looks for secrets in files that are to be passed on: those that are known, and what looks like one. */
final class SecretSearch {
    private static final String PRIVATE_KEY = "PRIVATE KEY-----";
    private static final int KEY_BYTES = 64 << 10;
    private static final int BEGINNING = 8 << 10;
    /** Longer lines are searched in pieces of this length. */
    private static final int PIECE = 1 << 20;

    private final List<String> known;

    /** @param known secrets in the bytes in which they would be written */
    SecretSearch(Collection<String> known) {
        this.known = known.stream()
                .map(one -> new String(one.getBytes(StandardCharsets.UTF_8), StandardCharsets.ISO_8859_1)).toList();
    }

    static boolean isPrivateKey(Path file) throws IOException {
        return Files.size(file) <= KEY_BYTES
                && new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1).contains(PRIVATE_KEY);
    }

    /** What a file holds, with its line; nothing for one that is no text. */
    List<String> in(Path file) throws IOException {
        var found = new ArrayList<String>();
        try (InputStream bytes = new BufferedInputStream(Files.newInputStream(file), BEGINNING)) {
            bytes.mark(BEGINNING);
            for (byte one : bytes.readNBytes(BEGINNING)) {
                if (one == 0) {
                    return found;
                }
            }
            bytes.reset();
            var lines = new BufferedReader(new InputStreamReader(bytes, StandardCharsets.ISO_8859_1));
            var line = new StringBuilder();
            int number = 1;
            for (int next = lines.read(); next >= 0; next = lines.read()) {
                if (next == '\n' || line.length() == PIECE) {
                    search(line.toString(), number, found);
                    line.setLength(0);
                }
                if (next == '\n') {
                    number++;
                } else {
                    line.append((char) next);
                }
            }
            search(line.toString(), number, found);
        }
        return found;
    }

    private void search(String line, int number, List<String> found) {
        String where = "line " + number + ": ";
        if (known.stream().anyMatch(line::contains)) {
            found.add(where + "a secret to which the study refers");
        }
        Credentials.in(line).forEach(find -> found.add(where + find.what()));
    }
}
