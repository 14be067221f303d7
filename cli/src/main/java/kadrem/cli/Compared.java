package kadrem.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.Optional;
import java.util.stream.Stream;

import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.NoiseFloor;
import kadrem.core.verdict.Verdict;
import kadrem.files.compare.FigureRuns;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;

/** A study with what follows from its runs. */
record Compared(Path folder, Verdict verdict, Optional<NoiseFloor> floor) {
    /** Reads a study, telling what is odd about it. */
    static Compared read(Path folder, PrintWriter err) throws StudyException {
        StudyFile file = StudyFile.read(folder);
        file.warnings().forEach(warning -> err.println("note: " + warning));
        RunFolders.Found found = new RunFolders(file.folder()).find();
        found.unreadable().forEach(sentence -> err.println("note: " + sentence));
        Optional<NoiseFloor> floor = NoiseFloor.of(file.study(), RunFolders.ofNoiseFloor(file.folder()).runs());
        Comparison comparison = Comparison.of(file.study(),
                Stream.concat(found.runs().stream(), FigureRuns.of(file).stream()).toList());
        return new Compared(file.folder(), Verdict.of(comparison, floor, file.study().plan().seed()), floor);
    }
}
