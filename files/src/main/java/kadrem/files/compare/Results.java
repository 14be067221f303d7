package kadrem.files.compare;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

import kadrem.core.measure.RunRecord;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.NoiseFloor;
import kadrem.core.verdict.Verdict;
import kadrem.files.rehearsal.RehearsalFile;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;

/**
 * A study with all that was found out: what every export and every view of results starts from.
 *
 * @param runs judged under the study's limits of soundness
 * @param unreadable sentences on run folders that cannot be read
 * @param rehearsal the last that is kept with the study
 * @param floor how much a candidate differs from itself, if that was measured
 * @param verdict with the comparison that it follows from
 */
public record Results(StudyFile file, List<RunRecord> runs, List<String> unreadable, Optional<Rehearsal> rehearsal,
        Optional<NoiseFloor> floor, Verdict verdict) {
    /**
     * Reads a study and its runs.
     *
     * @throws StudyException if the study itself cannot be read
     */
    public static Results read(Path folder) throws StudyException {
        return of(StudyFile.read(folder));
    }

    /** Reads the runs of a study. */
    public static Results of(StudyFile file) throws StudyException {
        RunFolders.Found found = new RunFolders(file.folder()).find();
        List<RunRecord> runs = Stream.concat(found.runs().stream(), FigureRuns.of(file).stream()).toList();
        Optional<NoiseFloor> floor = NoiseFloor.of(file.study(), RunFolders.ofNoiseFloor(file.folder()).runs());
        Comparison comparison = Comparison.of(file.study(), runs);
        return new Results(file, runs.stream().map(run -> run.judgedUnder(file.study().judgement())).toList(),
                found.unreadable(), RehearsalFile.read(file.folder()), floor,
                Verdict.of(comparison, floor, file.study().plan().seed()));
    }

    public Study study() {
        return file.study();
    }

    public Comparison comparison() {
        return verdict.comparison();
    }
}
