package kadrem.cli;

import java.io.PrintWriter;
import java.nio.file.Path;

import kadrem.files.compare.Results;
import kadrem.files.study.StudyException;

/** Reads a study with its results for a command. */
final class StudyResults {
    private StudyResults() {
    }

    /** Tells what is odd about the study, and which runs cannot be read. */
    static Results read(Path folder, PrintWriter err) throws StudyException {
        Results results = Results.read(folder);
        results.file().warnings().forEach(warning -> err.println("note: " + warning));
        results.unreadable().forEach(sentence -> err.println("note: " + sentence));
        return results;
    }
}
