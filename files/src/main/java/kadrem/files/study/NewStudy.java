package kadrem.files.study;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.List;

import kadrem.core.study.Call;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.files.AtomicFile;

/** A study to begin with: one candidate, one call, a load that any service bears. */
public final class NewStudy {
    private static final String TEXT = """
            kadrem: 1
            name: %s
            question:
              text: Which of them do we take?
              decide:
                - metric: p95
                  margin: 10%%
            candidates:
              - id: candidate
                name: Candidate A
                address: %s
            workload:
              visits:
                - name: visit 1
                  share: 10
                  calls:
                    - name: call
                      method: GET
                      path: /
            load:
              model: open
              arrivalsPerSecond: 50
              connections: 64
              warmUp: 5s
              measured: 20s
              timeout: 5s
            plan:
              rounds: 7
              seed: %d
              pause: 1s
            """;

    /** Where its candidate is until somebody says otherwise. */
    public static final String ADDRESS = "http://127.0.0.1:8080";

    /** Each study draws its own orders and values; short enough to be read out. */
    private static final int SEEDS = 1_000_000;

    private NewStudy() {
    }

    /**
     * Writes the study into {@code folder}, which is made where it is not there.
     *
     * @param name name of the study; that of the folder where it is blank
     * @throws IOException if the folder holds a study already, or cannot be written; the message says which
     */
    public static void create(Path folder, String name) throws IOException {
        Path file = folder.resolve(StudyFile.NAME);
        if (Files.exists(file)) {
            throw new IOException("There is a study in " + folder + " already. Choose another folder.");
        }
        try {
            Files.createDirectories(folder);
        } catch (IOException cause) {
            throw new IOException("The folder " + folder + " cannot be made: " + cause.getMessage(), cause);
        }
        Path last = folder.toAbsolutePath().normalize().getFileName();
        String plain = (name.isBlank() ? String.valueOf(last) : name).replaceAll("[\\r\\n\"\\\\]", " ").strip();
        AtomicFile.write(file, TEXT.formatted("\"" + plain + "\"", ADDRESS, new SecureRandom().nextInt(1, SEEDS))
                .getBytes(StandardCharsets.UTF_8));
    }

    /** Whether the workload is that of a new study, in whose place another may be put. */
    public static boolean isUntouched(Workload workload) {
        List<Visit> visits = workload.visits();
        return workload.first().isEmpty() && workload.values().isEmpty() && visits.size() == 1
                && visits.getFirst().name().equals("visit 1")
                && visits.getFirst().calls().equals(List.of(Call.of("call", "GET", "/")));
    }
}
