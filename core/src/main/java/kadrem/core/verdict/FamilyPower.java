package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.SplittableRandom;
import java.util.random.RandomGenerator;
import java.util.stream.IntStream;

import kadrem.core.stats.PairedPower;
import kadrem.core.stats.SignedRank;
import kadrem.core.stats.SymmetryMartingale;

/**
 * How many rounds settle something, by simulation of the whole {@link Family}: studies with normal scatter are made up, every pair on
 * every metric is tested by the test that will be used, the levels go by Holm's steps, and the rounds are those after which as large a
 * part as is asked for is settled rightly; one file, since the simulation and what is simulated are one model. As in a study, pairs with a
 * candidate in common are not independent. The seed is fixed. Source: Senn, Bretz: Power and sample size when multiple endpoints are
 * considered, Pharmaceutical Statistics 6, 2007 (average power).
 */
final class FamilyPower {
    /** The error of a simulated power of 0.8 is 1.6 points where a study has one pair, and less where it has more. */
    private static final int MAX_STUDIES = 600;
    private static final int MIN_STUDIES = 20;
    /** Tests that are simulated for a number of rounds, all studies taken together. */
    static final int TESTS = 14_400;
    private static final long SEED = 20_261_130;
    /** Rounds that are simulated at first, in those that one pair takes at the strictest level. */
    private static final double ROOM = 2.5;
    private static final int MIN_SIMULATED = 24;

    private static final int KEPT = 1_000;
    private static final Map<Search, OptionalInt> FOUND = Collections.synchronizedMap(new LinkedHashMap<>() {
        @Override
        protected boolean removeEldestEntry(Map.Entry<Search, OptionalInt> eldest) {
            return size() > KEPT;
        }
    });

    private FamilyPower() {
    }

    /**
     * A family.
     *
     * @param metrics deciding ones, which are taken to be alike
     * @param requirements over all candidates; each keeps its share of the significance
     */
    record Shape(int candidates, int metrics, int requirements, double significance, boolean adaptive) {
        int tests() {
            return candidates * (candidates - 1) / 2 * metrics;
        }

        int items() {
            return Math.max(1, tests() + requirements);
        }
    }

    /**
     * What is to be settled.
     *
     * @param difference between candidates that follow on each other, in standard deviations of the paired differences; 0 for none
     * @param zone the margin, in the same unit
     * @param power the part of such pairs that is to be settled: as better or worse, or as one of which no difference matters
     * @param tests to be simulated, all studies taken together
     */
    record Asked(Shape shape, double difference, double zone, double power, int tests) {
        double shown() {
            return difference == 0 ? zone : difference;
        }
    }

    /** Rounds that this takes, from {@code fewest} on; empty where it is more than {@code most}. Found once while nothing changes. */
    static OptionalInt rounds(Asked asked, int fewest, int most) {
        var search = new Search(asked, fewest, most);
        OptionalInt known = FOUND.get(search);
        if (known == null) {
            // not under the lock: two that ask at once do the same work, and nobody waits for another's
            known = found(search);
            FOUND.put(search, known);
        }
        return known;
    }

    private record Search(Asked asked, int fewest, int most) {
    }

    private static OptionalInt found(Search search) {
        Asked asked = search.asked();
        int fewest = search.fewest();
        int most = search.most();
        Shape shape = asked.shape();
        // no test shows more of normal differences than the t test of one pair that has all of the significance
        double least = ofOnePair(asked, shape.significance(), most);
        if (shape.tests() == 0 || least > most) {
            return OptionalInt.empty();
        }
        double enough = ROOM * ofOnePair(asked, Family.first(shape.significance(), shape.items()), most);
        int some = (int) Math.min(most, Math.max(enough, Math.max(fewest, MIN_SIMULATED)));
        OptionalInt found = simulated(asked, fewest, some);
        return found.isPresent() || some == most ? found : simulated(asked, fewest, most);
    }

    private static double ofOnePair(Asked asked, double level, int most) {
        return PairedPower.rounds(asked.shown(), 1, level, asked.power()).orElse(most + 1.0);
    }

    private static OptionalInt simulated(Asked asked, int fewest, int most) {
        Shape shape = asked.shape();
        var random = new SplittableRandom(SEED);
        List<MadeUp> studies = IntStream
                .range(0, Math.clamp(asked.tests() / shape.items(), MIN_STUDIES, MAX_STUDIES))
                .mapToObj(_ -> new MadeUp(asked, random.split(), most)).toList();
        for (int rounds = 1; rounds <= most; rounds++) {
            studies.forEach(MadeUp::next);
            if (rounds >= fewest) {
                double[] needed = needed(shape, rounds);
                double settled = studies.stream().mapToDouble(study -> study.settled(needed)).average().orElseThrow();
                if (settled >= asked.power()) {
                    return OptionalInt.of(rounds);
                }
            }
        }
        return OptionalInt.empty();
    }

    /** What a test must show after some rounds, by the number of items that share the significance. */
    private static double[] needed(Shape shape, int rounds) {
        double[] levels = IntStream.rangeClosed(1, shape.items())
                .mapToDouble(shared -> Family.first(shape.significance(), shared)).toArray();
        double[] by = shape.adaptive()
                ? Arrays.stream(levels).map(level -> 1 / level).toArray()
                : Arrays.stream(SignedRank.averagesOutside(rounds, levels)).asDoubleStream().toArray();
        var needed = new double[by.length + 1];
        System.arraycopy(by, 0, needed, 1, by.length);
        return needed;
    }

    /** A study of which one round after the other is made up. */
    private static final class MadeUp {
        private final Asked asked;
        private final RandomGenerator random;
        private final List<Pair> pairs = new ArrayList<>();
        private final List<Family.Item> items = new ArrayList<>();
        private double[] needed = {};
        private int rounds;

        MadeUp(Asked asked, RandomGenerator random, int most) {
            this.asked = asked;
            this.random = random;
            Shape shape = asked.shape();
            for (int metric = 0; metric < shape.metrics(); metric++) {
                for (int a = 0; a < shape.candidates(); a++) {
                    for (int b = a + 1; b < shape.candidates(); b++) {
                        var differences = new double[most];
                        Test test = shape.adaptive()
                                ? new Betting(differences, asked.zone())
                                : new Ranking(differences, asked.zone());
                        pairs.add(new Pair(metric, a, b, differences, test));
                        items.add(level -> test.isBeyond(needed[Family.shared(shape.significance(), level)]));
                    }
                }
            }
            for (int i = 0; i < shape.requirements(); i++) {
                items.add(_ -> false);
            }
        }

        private record Pair(int metric, int a, int b, double[] differences, Test test) {
        }

        void next() {
            Shape shape = asked.shape();
            var values = new double[shape.metrics()][shape.candidates()];
            for (double[] ofMetric : values) {
                // candidates scatter by so much that their differences scatter by 1
                Arrays.setAll(ofMetric, c -> c * asked.difference() + random.nextGaussian() / Math.sqrt(2));
            }
            for (Pair pair : pairs) {
                double[] ofMetric = values[pair.metric()];
                pair.differences()[rounds] = ofMetric[pair.b()] - ofMetric[pair.a()];
                pair.test().next(rounds);
            }
            rounds++;
        }

        /** The part of the pairs that follow on each other of which what is so can be said. */
        double settled(double[] now) {
            needed = now;
            double[] levels = Family.levels(asked.shape().significance(), items);
            int near = 0;
            int right = 0;
            for (int i = 0; i < pairs.size(); i++) {
                Pair pair = pairs.get(i);
                if (pair.b() - pair.a() == 1) {
                    near++;
                    double takes = now[Family.shared(asked.shape().significance(), levels[i])];
                    right += (asked.difference() == 0
                            ? pair.test().isInside(takes)
                            : pair.test().isAbove(Test.NONE, takes)) ? 1 : 0;
                }
            }
            return (double) right / near;
        }
    }

    /** The test of a pair against three places: the ends of the margin zone, and no difference between them. */
    private abstract static class Test {
        static final int LOW = 0;
        static final int NONE = 1;
        static final int HIGH = 2;
        static final int PLACES = 3;

        final double[] differences;
        private final double zone;

        Test(double[] differences, double zone) {
            this.differences = differences;
            this.zone = zone;
        }

        double at(int place) {
            return (place - NONE) * zone;
        }

        /** Takes the difference of a round in, which comes after those that it has. */
        abstract void next(int round);

        /** Whether the interval lies above a place. */
        abstract boolean isAbove(int place, double needed);

        abstract boolean isBelow(int place, double needed);

        boolean isInside(double needed) {
            return isAbove(LOW, needed) && isBelow(HIGH, needed);
        }

        boolean isBeyond(double needed) {
            return isAbove(HIGH, needed) || isBelow(LOW, needed);
        }
    }

    /** By {@link SignedRank}: so many Walsh averages at most lie on the other side of the place. */
    private static final class Ranking extends Test {
        private final int[] beyond = new int[PLACES];
        private int averages;

        Ranking(double[] differences, double zone) {
            super(differences, zone);
        }

        @Override
        void next(int round) {
            double own = differences[round];
            for (int place = 0; place < PLACES; place++) {
                double from = 2 * at(place) - own;
                int more = 0;
                for (int i = 0; i <= round; i++) {
                    more += differences[i] > from ? 1 : 0;
                }
                beyond[place] += more;
            }
            averages += round + 1;
        }

        @Override
        boolean isAbove(int place, double needed) {
            return averages - beyond[place] < needed;
        }

        @Override
        boolean isBelow(int place, double needed) {
            return beyond[place] < needed;
        }
    }

    /** By {@link SymmetryMartingale}: the bets against the place have come to so much. */
    private static final class Betting extends Test {
        private final SymmetryMartingale.Bets[] bets = new SymmetryMartingale.Bets[PLACES];
        private double sum;
        private int known;

        Betting(double[] differences, double zone) {
            super(differences, zone);
            Arrays.setAll(bets, place -> new SymmetryMartingale.Bets(differences, at(place)));
        }

        @Override
        void next(int round) {
            for (SymmetryMartingale.Bets some : bets) {
                some.next();
            }
            sum += differences[round];
            known++;
        }

        @Override
        boolean isAbove(int place, double needed) {
            return sum / known > at(place) && bets[place].largest() >= needed;
        }

        @Override
        boolean isBelow(int place, double needed) {
            return sum / known < at(place) && bets[place].largest() >= needed;
        }
    }
}
