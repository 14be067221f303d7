package kadrem.files.compare;

import java.io.IOException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

import kadrem.core.examine.Selection;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.QuantileDifferences;
import kadrem.files.run.RunReader;
import org.HdrHistogram.Histogram;

/**
 * The whole distributions of the runs that entered a comparison, from their latency logs.
 *
 * @param byCandidate response times in nanoseconds, by candidate and round
 */
public record Distributions(Map<String, Map<Integer, Histogram>> byCandidate) {
    /** Reads those of the runs in the study in {@code folder}; none of figures that were measured elsewhere. */
    public static Distributions read(Path folder, Comparison comparison) throws IOException {
        var all = new HashMap<String, Map<Integer, Histogram>>();
        if (comparison.study().isElsewhere()) {
            return new Distributions(all);
        }
        for (var rounds : comparison.entered().entrySet()) {
            var own = new TreeMap<Integer, Histogram>();
            for (RunRecord run : rounds.getValue().values().stream().filter(RunRecord::hasWholeFigures).toList()) {
                own.put(run.round(), RunReader.view(folder.resolve("runs").resolve(run.folderName()), Selection.ALL)
                        .total().response());
            }
            all.put(rounds.getKey(), own);
        }
        return new Distributions(all);
    }

    /** The differences of each pair that has rounds in common. */
    public List<QuantileDifferences> differences(Study study) {
        return study.pairs().stream().map(pair -> QuantileDifferences.of(pair.baseline(),
                byCandidate.getOrDefault(pair.baseline(), Map.of()), pair.candidate(),
                byCandidate.getOrDefault(pair.candidate(), Map.of()), study.plan().seed()))
                .filter(one -> !one.at().isEmpty()).toList();
    }
}
