package kadrem.core.plan;

import java.util.Arrays;
import java.util.function.DoubleUnaryOperator;

import kadrem.core.random.SplitMix64;
import kadrem.core.study.Course;
import kadrem.core.study.LoadProfile;

/**
 * When the arrivals of the open model are due, fixed before the run. With constant spacing number i is due when the area
 * below the profile reaches i, which is i / rate after the start at one rate; with Poisson spacing the gaps are independent
 * and exponential with mean 1 on the scale of that area, drawn from the seed.
 */
public sealed interface Arrivals
        permits Arrivals.FirstOf, Arrivals.Along, Arrivals.Constant, Arrivals.Poisson, Recorded {
    /** No arrivals, as in the closed model. */
    Arrivals NONE = new Constant(1, 0);

    /** Number of arrivals due before the end. */
    long count();

    /** Due instant of arrival {@code index}, in ns after the start; grows with the index. */
    long dueNanos(long index);

    /** Arrivals due in [0, {@code nanos}). */
    long dueBefore(long nanos);

    /** The arrivals of a whole run whose load follows its rate, warm-up and wind-down included. */
    static Arrivals of(LoadProfile.Open load, long streamSeed) {
        Arrivals all = unlimited(load, streamSeed);
        if (load.course().visits().isEmpty()) {
            return all;
        }
        long most = all.dueBefore(load.warmUp().toNanos()) + load.course().visits().getAsLong();
        return most >= all.count() ? all : new FirstOf(all, most);
    }

    private static Arrivals unlimited(LoadProfile.Open load, long streamSeed) {
        Course course = load.course();
        boolean constant = load.spacing() == LoadProfile.Spacing.CONSTANT;
        double level = load.shape().first();
        if (load.shape().isFlat() && course.windDown().isZero() && course.warmUpLevel().orElse(level) == level) {
            long seconds = load.total().toSeconds();
            return constant
                    ? new Constant(1e9 / level, (long) Math.ceil(seconds * level - 1e-9))
                    : Poisson.draw(1e9 / level, seconds * 1e9, at -> at, seconds * level, streamSeed);
        }
        Curve curve = Curve.of(load);
        return constant
                ? new Along(curve, (long) Math.ceil(curve.area() - 1e-9))
                : Poisson.draw(1, curve.area(), at -> curve.reaches(at) * 1e9, curve.area(), streamSeed);
    }

    /** The first arrivals of others. */
    record FirstOf(Arrivals all, long count) implements Arrivals {
        @Override
        public long dueNanos(long index) {
            return all.dueNanos(index);
        }

        @Override
        public long dueBefore(long nanos) {
            return Math.min(count, all.dueBefore(nanos));
        }
    }

    /** Arrivals whose distance follows a curve: number i is due when its area reaches i. */
    record Along(Curve curve, long count) implements Arrivals {
        @Override
        public long dueNanos(long index) {
            return (long) (curve.reaches(index) * 1e9);
        }

        @Override
        public long dueBefore(long nanos) {
            long guess = Math.clamp((long) curve.area(nanos / 1e9), 0, count);
            while (guess < count && dueNanos(guess) < nanos) {
                guess++;
            }
            while (guess > 0 && dueNanos(guess - 1) >= nanos) {
                guess--;
            }
            return guess;
        }
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
        public static final long MAX = 10_000_000;
        private static final long PURPOSE = 0x61727269766c73L;
        private final long[] due;

        private Poisson(long[] due) {
            this.due = due;
        }

        /**
         * Gaps of a mean drawn up to an end, both on a scale that {@code toNanos} turns into time (Ross 1996, 2.4).
         *
         * @param expected about how many there will be
         */
        static Poisson draw(double meanGap, double end, DoubleUnaryOperator toNanos, double expected,
                long streamSeed) {
            var due = new long[(int) Math.min(MAX + 1, (long) (expected * 1.05) + 64)];
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
                due[count++] = (long) toNanos.applyAsDouble(at);
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
