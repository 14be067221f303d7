package kadrem.files.compare;

import java.nio.file.Path;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.Optional;

import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunRecord;
import kadrem.core.plan.LoadDigest;
import kadrem.core.study.FigureFile;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Metric;
import kadrem.core.verdict.ValueComparison.Value;
import kadrem.files.study.Inside;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;

/** The runs of a study whose figures were measured elsewhere: a run for each candidate and round of its figure files. */
public final class FigureRuns {
    private FigureRuns() {
    }

    /**
     * The runs; none where the study has a load of its own.
     *
     * @throws StudyException if a file cannot be used, with its place and the mend
     */
    public static List<RunRecord> of(StudyFile file) throws StudyException {
        if (!(file.study() instanceof FigureStudy study)) {
            return List.of();
        }
        Map<List<String>, Map<Metric, Double>> runs = new LinkedHashMap<>();
        for (FigureFile figures : study.figures()) {
            Path path = file.folder().resolve(figures.file());
            if (java.nio.file.Files.exists(path) && !Inside.is(file.folder(), path)) {
                throw new StudyException(
                        figures.file() + " lies outside the study. Put the file below the study's folder.");
            }
            List<Value> values;
            try {
                values = ValueFiles.read(List.of(path), Optional.empty());
            } catch (ValueFiles.Unusable cause) {
                throw new StudyException(String.valueOf(cause.getMessage()));
            }
            for (Value value : values) {
                if (!value.round().matches("\\d{1,6}")) {
                    throw new StudyException(path + " has the round \"" + value.round() + "\" of " + value.candidate()
                            + ". Rounds of a study are numbers; figures without rounds are compared by kadrem compare FILE.");
                }
                if (study.candidate(value.candidate()).isEmpty()) {
                    throw new StudyException(path + " has a value of \"" + value.candidate()
                            + "\", which is not a candidate of the study. Add it to candidates, or take the row out.");
                }
                runs.computeIfAbsent(List.of(value.candidate(), value.round()), _ -> new TreeMap<>())
                        .put(figures.metric(), value.value() * figures.unit());
            }
        }
        String digest = LoadDigest.of(study);
        return runs.entrySet().stream().map(run -> {
            String candidate = run.getKey().getFirst();
            int round = Integer.parseInt(run.getKey().getLast());
            RunRecord begun = RunRecord.begun(
                    new RunIdentity("elsewhere-" + round + "-" + candidate, round, candidate, 1, 0,
                            digest, Instant.EPOCH.plusSeconds(round), Map.of(), Optional.empty()),
                    RunRecord.Processes.NONE);
            return begun.withElsewhere(RunFigures.elsewhere(run.getValue()))
                    .withOutcome(RunOutcome.COMPLETE, "", begun.started());
        }).toList();
    }
}
