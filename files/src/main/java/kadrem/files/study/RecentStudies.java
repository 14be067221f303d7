package kadrem.files.study;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import kadrem.files.AtomicFile;

/** The studies that the user had open last, with what each said then: a list in the user's own folder. Any thread. */
public final class RecentStudies {
    private static final int KEPT = 8;
    private static final ObjectMapper MAPPER = new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

    private final Path file;

    /**
     * A study that was open.
     *
     * @param folder absolute
     * @param said what could be said of its candidates when it was last seen
     */
    public record Recent(String folder, String name, String said) {
    }

    public RecentStudies(Path file) {
        this.file = file;
    }

    /** The last one first, those only that are still there; none where the list cannot be read. */
    public synchronized List<Recent> all() {
        try {
            return Files.exists(file)
                    ? MAPPER.readValue(file.toFile(), new TypeReference<List<Recent>>() {
                    }).stream().filter(one -> Files.isRegularFile(Path.of(one.folder(), StudyFile.NAME))).toList()
                    : List.of();
        } catch (IOException | IllegalArgumentException _) {
            return List.of();
        }
    }

    /** Keeps that a study was open, and what it said; writes nothing where that is known. */
    public synchronized void note(Recent seen) throws IOException {
        var list = new ArrayList<>(all());
        if (!list.isEmpty() && list.getFirst().equals(seen)) {
            return;
        }
        list.removeIf(one -> one.folder().equals(seen.folder()));
        list.addFirst(seen);
        Files.createDirectories(file.toAbsolutePath().getParent());
        AtomicFile.write(file, MAPPER.writeValueAsBytes(list.subList(0, Math.min(KEPT, list.size()))));
    }
}
