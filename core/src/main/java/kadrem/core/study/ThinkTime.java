package kadrem.core.study;

import java.time.Duration;

import org.apache.commons.statistics.distribution.NormalDistribution;

/** The pause of a simulated user after a call: a length of its own each time, drawn from the seed. */
public sealed interface ThinkTime {
    /** No pause. */
    ThinkTime NONE = new Fixed(Duration.ZERO);
    /** Longest pause that is drawn from a distribution without an end. */
    Duration MAX = Duration.ofHours(1);

    /** Mean of the distribution. */
    Duration mean();

    /**
     * The pause at {@code u}, by inversion of the distribution function.
     *
     * @param u a number in [0, 1)
     * @return nanoseconds, from 0 to an hour
     */
    long nanos(double u);

    private static long bounded(double nanos) {
        return (long) Math.clamp(nanos, 0.0, (double) MAX.toNanos());
    }

    /** Always the same. */
    record Fixed(Duration mean) implements ThinkTime {
        @Override
        public long nanos(double u) {
            return mean.toNanos();
        }
    }

    /** Every length between two bounds alike. */
    record Uniform(Duration from, Duration to) implements ThinkTime {
        @Override
        public Duration mean() {
            return from.plus(to).dividedBy(2);
        }

        @Override
        public long nanos(double u) {
            return bounded(from.toNanos() + u * (to.toNanos() - from.toNanos()));
        }
    }

    /** Normal; what would fall below zero is no pause. */
    record Normal(Duration mean, Duration deviation) implements ThinkTime {
        @Override
        public long nanos(double u) {
            return bounded(NormalDistribution.of(mean.toNanos(), deviation.toNanos()).inverseCumulativeProbability(u));
        }
    }

    /** Lognormal with this mean and standard deviation of the pause itself, not of its logarithm. */
    record Lognormal(Duration mean, Duration deviation) implements ThinkTime {
        @Override
        public long nanos(double u) {
            double share = (double) deviation.toNanos() / mean.toNanos();
            double variance = Math.log1p(share * share);
            double centre = Math.log(mean.toNanos()) - variance / 2;
            return bounded(Math.exp(
                    NormalDistribution.of(centre, Math.sqrt(variance)).inverseCumulativeProbability(u)));
        }
    }

    /** Exponential, as the gaps of events that do not depend on each other. */
    record Exponential(Duration mean) implements ThinkTime {
        @Override
        public long nanos(double u) {
            return bounded(-Math.log1p(-u) * mean.toNanos());
        }
    }
}
