package kadrem.load.gate;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** SHA-256 of files, read again only where size, moment of writing or the file itself is another. Thread-safe. */
final class FileDigests {
    private static final int MAX_KEPT = 1_000;
    private static final Map<String, String> KNOWN = new ConcurrentHashMap<>();

    private FileDigests() {
    }

    static String of(Path file) throws IOException {
        BasicFileAttributes now = Files.readAttributes(file, BasicFileAttributes.class);
        String mark = file.toRealPath() + " " + now.fileKey() + " " + now.size() + " " + now.lastModifiedTime();
        String known = KNOWN.get(mark);
        if (known == null) {
            known = digest(file);
            if (KNOWN.size() > MAX_KEPT) {
                KNOWN.clear();
            }
            KNOWN.put(mark, known);
        }
        return known;
    }

    private static String digest(Path file) throws IOException {
        try (InputStream bytes = Files.newInputStream(file);
                var digesting = new DigestInputStream(bytes, MessageDigest.getInstance("SHA-256"))) {
            digesting.transferTo(java.io.OutputStream.nullOutputStream());
            return HexFormat.of().formatHex(digesting.getMessageDigest().digest());
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("every Java platform has SHA-256", impossible);
        }
    }
}
