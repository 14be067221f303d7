package kadrem.files.report;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

import kadrem.core.study.FigureStudy;
import kadrem.files.AtomicFile;
import kadrem.files.compare.Distributions;
import kadrem.files.compare.Results;

/** Writes the documents of a study. */
public final class ReportFiles {
    private ReportFiles() {
    }

    /** A document; the name is the word of the command line. */
    public enum Kind {
        html("report.html"), pdf("report.pdf"), record("decision.md");

        private final String fileName;

        Kind(String fileName) {
            this.fileName = fileName;
        }

        public String fileName() {
            return fileName;
        }
    }

    /**
     * Writes documents into a folder, which is made if need be; a document that is there is replaced.
     *
     * @return the files, in the order of their kinds
     * @throws IOException if a run's latencies cannot be read or the folder cannot be written; the message names the place
     */
    public static List<Path> write(Results results, Set<Kind> kinds, Path folder, Instant made) throws IOException {
        Optional<Distributions> distributions = kinds.equals(Set.of(Kind.record))
                || results.study() instanceof FigureStudy
                        ? Optional.empty()
                        : Optional.of(Distributions.read(results.file().folder(), results.comparison()));
        Files.createDirectories(folder);
        var written = new ArrayList<Path>();
        for (Kind kind : Kind.values()) {
            if (kinds.contains(kind)) {
                Path file = folder.resolve(kind.fileName());
                AtomicFile.write(file, switch (kind) {
                    case html -> HtmlReport.write(results, distributions, made).getBytes(StandardCharsets.UTF_8);
                    case pdf -> PdfReport.write(results, distributions, made);
                    case record -> DecisionRecord.write(results, made).getBytes(StandardCharsets.UTF_8);
                });
                written.add(file);
            }
        }
        return List.copyOf(written);
    }
}
