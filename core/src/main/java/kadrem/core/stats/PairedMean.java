package kadrem.core.stats;

import java.util.Optional;

import org.apache.commons.statistics.distribution.TDistribution;

/**
 * The mean of paired differences between shares, clustered by round: the difference of the pooled shares where rounds are of one size,
 * with the t interval over rounds. A share of one round in ten that is bad moves it, as it moves no median. Where the rounds do
 * not differ at all the interval is as wide as so many calls without a difference leave it: a share of one call in n may differ and
 * show nothing with probability (1 − q)ⁿ.
 * <p>
 * Source: Student 1908 for t; Clopper, Pearson 1934 for the bound of a share of which nothing was seen.
 */
public final class PairedMean implements LocationTest {
    /** Fewer rounds say too little of how rounds differ. */
    private static final int MIN_ROUNDS = 5;

    private final PairedT t;
    private final long calls;

    private PairedMean(PairedT t, long calls) {
        this.t = t;
        this.calls = calls;
    }

    /**
     * The analysis.
     *
     * @param calls calls of a candidate in all rounds, fewer of the two
     * @return empty for fewer than two rounds
     */
    public static Optional<PairedMean> of(long calls, double... differences) {
        return PairedT.of(differences).map(t -> new PairedMean(t, Math.max(1, calls)));
    }

    @Override
    public String method() {
        return "paired mean";
    }

    @Override
    public double estimate() {
        return t.mean();
    }

    @Override
    public double p(double shift) {
        if (t.count() < MIN_ROUNDS) {
            return 1;
        }
        double distance = Math.abs(t.mean() - shift);
        double scatter = t.sd() == 0
                ? 0
                : 2 * TDistribution.of(t.count() - 1.0)
                        .survivalProbability(distance / (t.sd() / Math.sqrt(t.count())));
        double unseen = 2 * Math.pow(1 - Math.min(1, distance), calls);
        return Math.min(1, Math.max(scatter, unseen));
    }

    @Override
    public Optional<Interval> interval(double confidence) {
        if (t.count() < MIN_ROUNDS) {
            return Optional.empty();
        }
        Interval scatter = t.sd() == 0 ? new Interval(t.mean(), t.mean(), confidence) : t.interval(confidence);
        double least = unseen((1 - confidence) / 2);
        return Optional.of(new Interval(Math.min(scatter.low(), t.mean() - least),
                Math.max(scatter.high(), t.mean() + least), confidence));
    }

    /** The share that shows nothing in all calls with probability {@code level}. */
    private double unseen(double level) {
        return 1 - Math.pow(level, 1.0 / calls);
    }
}
