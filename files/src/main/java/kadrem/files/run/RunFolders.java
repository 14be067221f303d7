package kadrem.files.run;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.RunStore;

/** The {@code runs} folder of a study. */
public final class RunFolders implements RunStore {
    private static final Comparator<RunRecord> IN_ORDER = Comparator.comparingInt(RunRecord::round)
            .thenComparingInt(run -> run.identity().position()).thenComparing(RunRecord::started);

    private final Path runs;

    public RunFolders(Path studyFolder) {
        runs = studyFolder.resolve("runs");
    }

    /** The runs in which a candidate of the study was measured against itself. */
    public static RunFolders ofNoiseFloor(Path studyFolder) {
        return new RunFolders(studyFolder.resolve("noise-floor"));
    }

    /** The runs in which two versions of a candidate of the study were measured beside each other. */
    public static RunFolders ofVersions(Path studyFolder, String candidate, String before, String after) {
        return new RunFolders(studyFolder.resolve("regressions").resolve(candidate + "-" + before + "-" + after));
    }

    /** Where a run is recorded. */
    public Path folder(RunRecord run) {
        return runs.resolve(run.folderName());
    }

    /** What was found: the runs that can be read, and a sentence for each folder that cannot. */
    public record Found(List<RunRecord> runs, List<String> unreadable) {
    }

    public Found find() {
        var found = new ArrayList<RunRecord>();
        var unreadable = new ArrayList<String>();
        if (Files.isDirectory(runs)) {
            try (Stream<Path> folders = Files.list(runs)) {
                for (Path folder : folders.filter(Files::isDirectory).sorted().toList()) {
                    try {
                        found.add(RunJson.read(Files.readAllBytes(folder.resolve(RunWriter.RECORD))));
                    } catch (IOException cause) {
                        unreadable.add("the run in " + folder + " cannot be read and is left out: "
                                + (cause instanceof java.nio.file.NoSuchFileException
                                        ? "it has no run.json"
                                        : cause.getMessage()));
                    }
                }
            } catch (IOException cause) {
                throw new UncheckedIOException("the folder " + runs + " cannot be read: " + cause.getMessage(), cause);
            }
        }
        found.sort(IN_ORDER);
        return new Found(List.copyOf(found), List.copyOf(unreadable));
    }

    @Override
    public List<RunRecord> runs() {
        return find().runs();
    }

    /** @throws UncheckedIOException if the folder cannot be written; the message says why and that nothing was lost */
    @Override
    public RunJournal begin(RunRecord record, List<String> callNames, int warmUpSeconds) {
        Path folder = folder(record);
        try {
            Files.createDirectories(folder);
            return new RunWriter(folder, record, callNames, warmUpSeconds);
        } catch (IOException cause) {
            throw new UncheckedIOException(cannotWrite(folder), cause);
        }
    }

    private static String cannotWrite(Path folder) {
        return "the run folder " + folder + " cannot be written; nothing was measured and nothing is lost."
                + " Make the study folder writable, or copy the study to a place where it is";
    }

    @Override
    public void replace(RunRecord record) {
        Path file = folder(record).resolve(RunWriter.RECORD);
        try {
            kadrem.files.AtomicFile.write(file, RunJson.write(record, Optional.of(Files.readAllBytes(file))));
        } catch (IOException cause) {
            throw new UncheckedIOException("the run's record " + file + " cannot be replaced: " + cause.getMessage(),
                    cause);
        }
    }
}
