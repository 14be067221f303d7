package kadrem.core.verdict;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

import kadrem.core.study.Candidate;

/**
 * The deciding pairs of a comparison, with what each sitting says of them by itself: where the sittings differ, a difference was one of
 * the day.
 *
 * @param sittings in the order of time, those that wait for the next look among them
 */
public record SittingTable(List<String> sittings, List<Row> rows) {
    private static final String NONE = "–";
    private static final String WAITS = "waits";

    /**
     * A pair and metric.
     *
     * @param words of what, such as "p99 of Event loop against Thread pool"
     * @param cells for each sitting the change with the number of its rounds
     */
    public record Row(PairComparison pair, String words, List<String> cells) {
    }

    /** The table; without rows where there is one sitting, which has nothing beside it. */
    public static SittingTable of(Comparison comparison) {
        List<String> sittings = List.copyOf(comparison.allSittings().keySet());
        if (sittings.size() < 2) {
            return new SittingTable(sittings, List.of());
        }
        return new SittingTable(sittings, comparison.pairs().stream().filter(PairComparison::deciding)
                .map(pair -> row(comparison, pair, sittings)).toList());
    }

    private static Row row(Comparison comparison, PairComparison pair, List<String> sittings) {
        Map<String, Comparison.InSitting> known = comparison.bySitting(pair).stream()
                .collect(Collectors.toMap(Comparison.InSitting::sitting, one -> one));
        Set<String> judged = comparison.sittings().keySet();
        return new Row(pair,
                pair.metric().id() + " of " + name(comparison, pair.candidate()) + " against "
                        + name(comparison, pair.baseline()),
                sittings.stream().map(sitting -> {
                    Comparison.InSitting one = known.get(sitting);
                    return one == null
                            ? judged.contains(sitting) ? NONE : WAITS
                            : Wording.change(pair.metric(), one.estimate()) + " in " + one.rounds()
                                    + (one.rounds() == 1 ? " round" : " rounds");
                }).toList());
    }

    private static String name(Comparison comparison, String id) {
        return comparison.study().candidate(id).map(Candidate::name).orElse(id);
    }

    /** Whether there is more than one sitting, so that there is something to see. */
    public boolean hasSeveral() {
        return sittings.size() > 1;
    }
}
