package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

import kadrem.core.stats.StudentisedBootstrap;
import kadrem.core.stats.Interval;
import kadrem.core.stats.PairedT;

/**
 * Other methods on the same differences, looked at only to see whether they contradict: Student's paired t, and the studentised
 * bootstrap of the mean over rounds. Intervals are on the scale of the estimate.
 */
public record SecondOpinions(Optional<PairedT> t, Optional<Interval> tInterval, Optional<Interval> bootstrap,
        List<String> disagreements) {
    /** @param resamples of as many rounds as the pair has */
    public static SecondOpinions of(PairComparison pair, StudentisedBootstrap resamples, double significance) {
        double[] differences = pair.differences();
        Optional<PairedT> t = PairedT.of(differences);
        Optional<Interval> tInterval = t.map(one -> shown(pair, one.interval(1 - significance)));
        Optional<Interval> bootstrap = resamples.interval(differences, 1 - significance).map(i -> shown(pair, i));
        var disagreements = new ArrayList<String>();
        pair.interval().ifPresent(own -> {
            boolean zero = own.contains(pair.metric().scale().neutral());
            t.ifPresent(one -> {
                if (tInterval.get().contains(pair.metric().scale().neutral()) != zero) {
                    disagreements
                            .add(String.format(Locale.ROOT, "the paired t test says otherwise (p = %.4f)", one.p()));
                }
            });
            bootstrap.ifPresent(one -> {
                if (one.contains(pair.metric().scale().neutral()) != zero) {
                    disagreements.add("the bootstrap interval of the mean says otherwise");
                }
            });
        });
        return new SecondOpinions(t, tInterval, bootstrap, List.copyOf(disagreements));
    }

    private static Interval shown(PairComparison pair, Interval interval) {
        return new Interval(pair.metric().scale().shown(interval.low()), pair.metric().scale().shown(interval.high()),
                interval.achievedConfidence());
    }
}
