package kadrem.core.plan;

import java.util.Arrays;

import kadrem.core.study.LoadProfile;

/**
 * When the arrivals of the open model are due, fixed before the run. With constant spacing number i is due i / rate after
 * the start; with Poisson spacing the gaps are independent and exponential with mean 1 / rate, drawn from the seed.
 */
public sealed interface Arrivals {
    /** Number of arrivals due before the end. */
    long count();

    /** Due instant of arrival {@code index}, in ns after the start; grows with the index. */
    long dueNanos(long index);

    /** Arrivals due in [0, {@code nanos}). */
    long dueBefore(long nanos);

    /** The arrivals of a whole run, warm-up included. */
    static Arrivals of(LoadProfile.Open load, long streamSeed) {
        long seconds = load.warmUp().plus(load.measured()).toSeconds();
        return switch (load.spacing()) {
            case CONSTANT -> new Constant(1e9 / load.arrivalsPerSecond(),
                    (long) Math.ceil(seconds * load.arrivalsPerSecond() - 1e-9));
            case POISSON -> Poisson.draw(load.arrivalsPerSecond(), seconds, streamSeed);
        };
    }

    /** Arrivals at equal distances. */
    record Constant(double spacingNanos, long count) implements Arrivals {
        @Override
        public long dueNanos(long index) {
            return (long) (index * spacingNanos);
        }

        @Override
        public long dueBefore(long nanos) {
            long guess = Math.min(count, (long) (nanos / spacingNanos));
            while (guess < count && dueNanos(guess) < nanos) {
                guess++;
            }
            while (guess > 0 && dueNanos(guess - 1) >= nanos) {
                guess--;
            }
            return guess;
        }
    }

    /** Arrivals of a Poisson process. Eight bytes each, so their number is limited by the check of the study. */
    final class Poisson implements Arrivals {
        /** Most arrivals of one run that are kept in memory. */
        public static final long MOST = 10_000_000;
        private static final long PURPOSE = 0x61727269766c73L;
        private final long[] due;

        private Poisson(long[] due) {
            this.due = due;
        }

        static Poisson draw(double perSecond, long seconds, long streamSeed) {
            double end = seconds * 1e9;
            double meanGap = 1e9 / perSecond;
            var due = new long[(int) Math.min(MOST + 1, (long) (seconds * perSecond * 1.05) + 64)];
            int count = 0;
            long state = SplitMix64.mix(streamSeed ^ PURPOSE);
            double at = 0;
            while (true) {
                state += SplitMix64.GAMMA;
                at -= Math.log1p(-SplitMix64.unit(SplitMix64.mix(state))) * meanGap;
                if (at >= end) {
                    return new Poisson(Arrays.copyOf(due, count));
                }
                if (count == due.length) {
                    due = Arrays.copyOf(due, count + count / 8 + 64);
                }
                due[count++] = (long) at;
            }
        }

        @Override
        public long count() {
            return due.length;
        }

        @Override
        public long dueNanos(long index) {
            return due[(int) index];
        }

        @Override
        public long dueBefore(long nanos) {
            int at = Arrays.binarySearch(due, nanos);
            if (at < 0) {
                return -at - 1L;
            }
            while (at > 0 && due[at - 1] == nanos) {
                at--;
            }
            return at;
        }
    }
}
