package kadrem.core.stats;

import java.util.Arrays;
import java.util.Optional;

import org.apache.commons.statistics.distribution.TDistribution;

/**
 * Differences that come in groups, such as the rounds of sittings on several days: the mean of the groups' centres with its t interval over
 * groups, so that what differs from group to group, and not only from round to round, is in the interval. The centre of a group is its
 * Hodges–Lehmann estimate.
 * <p>
 * Source: Kalibera, Jones: Rigorous benchmarking in reasonable time, ISMM 2013 (the highest level of repetition is the unit); Student 1908.
 */
public final class BetweenGroups implements LocationTest {
    /** Fewer groups say nothing of how groups differ. */
    private static final int MIN = 3;

    private final PairedT t;

    private BetweenGroups(PairedT t) {
        this.t = t;
    }

    /** @return empty for fewer than {@value #MIN} groups */
    public static Optional<BetweenGroups> of(double[]... groups) {
        if (groups.length < MIN) {
            return Optional.empty();
        }
        return PairedT.of(Arrays.stream(groups).mapToDouble(BetweenGroups::centre).toArray()).map(BetweenGroups::new);
    }

    /** The centre of a group. */
    public static double centre(double... group) {
        return new WalshAverages(group).median();
    }

    @Override
    public String method() {
        return "t over groups";
    }

    @Override
    public double estimate() {
        return t.mean();
    }

    @Override
    public double p(double shift) {
        double distance = Math.abs(t.mean() - shift);
        if (t.sd() == 0) {
            return distance == 0 ? 1 : 0;
        }
        return Math.min(1, 2 * TDistribution.of(t.count() - 1.0)
                .survivalProbability(distance / (t.sd() / Math.sqrt(t.count()))));
    }

    @Override
    public Optional<Interval> interval(double confidence) {
        return Optional.of(t.sd() == 0 ? new Interval(t.mean(), t.mean(), confidence) : t.interval(confidence));
    }
}
