package kadrem.files.compare;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

import kadrem.core.verdict.ValueComparison.Value;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;

/** A study of figures that were measured elsewhere: its candidates and rounds are those of a file, which is copied into it. */
public final class NewStudyOfFigures {
    private NewStudyOfFigures() {
    }

    /**
     * Writes the study into {@code folder}, which is made where it is not there.
     *
     * @param name name of the study; that of the folder where it is blank
     * @param figures CSV with the columns candidate, round and value
     * @param metric the word of a metric, as in a study file
     * @param unit of the values
     * @throws IOException if the folder holds a study already, or cannot be written; the message says which
     * @throws StudyException if the figures cannot be used; nothing is left behind then
     */
    public static void create(Path folder, String name, Path figures, String metric, String unit)
            throws IOException, StudyException {
        Path file = folder.resolve(StudyFile.NAME);
        if (Files.exists(file)) {
            throw new IOException("There is a study in " + folder + " already. Choose another folder.");
        }
        List<String> candidates;
        try {
            candidates = ValueFiles.read(List.of(figures), Optional.empty()).stream().map(Value::candidate).distinct()
                    .toList();
        } catch (ValueFiles.Unusable cause) {
            throw new StudyException("The figures cannot be used: " + cause.getMessage());
        }
        Path copy = folder.resolve("figures").resolve(String.valueOf(figures.getFileName()));
        Files.createDirectories(copy.getParent());
        Files.copy(figures, copy);
        Path last = folder.toAbsolutePath().normalize().getFileName();
        String plain = (name.isBlank() ? String.valueOf(last) : name).replaceAll("[\\r\\n\"\\\\]", " ").strip();
        boolean written = false;
        try {
            Files.writeString(file, """
                    kadrem: 1
                    name: "%s"
                    question:
                      text: Which of them do we take?
                      decide:
                        - metric: %s
                          margin: 5%%
                    candidates:
                    %s
                    figures:
                      - file: "figures/%s"
                        metric: %s
                        unit: "%s"
                    plan:
                      rounds: 6
                    """.formatted(plain, metric,
                    candidates.stream().map(id -> "  - id: \"" + id.replaceAll("[\"\\\\]", "") + "\"")
                            .collect(Collectors.joining("\n")),
                    copy.getFileName(), metric, unit), StandardCharsets.UTF_8);
            FigureRuns.of(StudyFile.read(folder));
            written = true;
        } finally {
            if (!written) {
                Files.deleteIfExists(file);
                Files.deleteIfExists(copy);
            }
        }
    }
}
