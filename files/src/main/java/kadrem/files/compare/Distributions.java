package kadrem.files.compare;

import java.io.IOException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;

import kadrem.core.measure.RunRecord;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.QuantileDifferences;
import kadrem.core.verdict.RunTimes;
import kadrem.figures.Mark;
import kadrem.files.run.RunFolders;
import kadrem.files.run.RunReader;

/**
 * The whole distributions of the runs that entered a comparison, from their latency logs.
 *
 * @param byCandidate response times by candidate and round
 * @param ended runs that candidates ended themselves, so that there are no times of them, by candidate
 */
public record Distributions(Map<String, Map<Integer, RunTimes>> byCandidate, Map<String, Integer> ended) {
    /** Reads those of the runs in the study in {@code folder}; none of figures that were measured elsewhere. */
    public static Distributions read(Path folder, Comparison comparison) throws IOException {
        var all = new HashMap<String, Map<Integer, RunTimes>>();
        var ended = new TreeMap<String, Integer>();
        if (comparison.study() instanceof FigureStudy) {
            return new Distributions(all, ended);
        }
        for (var rounds : comparison.entered().entrySet()) {
            var own = new TreeMap<Integer, RunTimes>();
            for (RunRecord run : rounds.getValue().values()) {
                if (run.hasWholeFigures()) {
                    own.put(run.round(),
                            new RunTimes(RunReader.responses(new RunFolders(folder).folder(run)),
                                    run.figures().orElseThrow().response().lacking()));
                } else {
                    ended.merge(run.candidate(), 1, Integer::sum);
                }
            }
            all.put(rounds.getKey(), own);
        }
        return new Distributions(all, ended);
    }

    /**
     * Where each is told apart from the baseline: "B against A: faster from p10 to p90 ….", and which runs have no times.
     *
     * @param differences of these
     */
    public String words(Study study, List<QuantileDifferences> differences) {
        String apart = differences.stream().filter(one -> one.baseline().equals(study.question().baseline()))
                .map(one -> new Mark(study.indexOf(one.candidate())).letter() + " against "
                        + new Mark(study.indexOf(one.baseline())).letter() + ": " + one.words() + ".")
                .collect(Collectors.joining(" "));
        return apart + (ended.isEmpty()
                ? ""
                : " Runs that a candidate ended itself have no times: " + ended.entrySet().stream()
                        .map(one -> one.getKey() + " in " + one.getValue()
                                + (one.getValue() == 1 ? " round" : " rounds"))
                        .collect(Collectors.joining(", ")) + ".");
    }

    /** The differences of each pair that has rounds in common. */
    public List<QuantileDifferences> differences(Study study) {
        return study.pairs().stream().map(pair -> QuantileDifferences.of(pair.baseline(),
                byCandidate.getOrDefault(pair.baseline(), Map.of()), pair.candidate(),
                byCandidate.getOrDefault(pair.candidate(), Map.of())))
                .filter(one -> !one.at().isEmpty() || one.without().isPresent()).toList();
    }
}
