package kadrem.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Random;

import kadrem.core.study.Course;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.ThinkTime;
import org.junit.jupiter.api.Test;

/** Load-profile arithmetic against the facts of the trade (common practice, no source) and against its own definition. */
class CurveTest {
    private static final Duration TIMEOUT = Duration.ofSeconds(5);

    private static Duration s(double seconds) {
        return Duration.ofNanos((long) (seconds * 1e9));
    }

    private static final Shape TRAPEZE = new Shape(
            List.of(Segment.ramp(s(15), 100), Segment.hold(s(30), 100), Segment.ramp(s(15), 0)));

    private static LoadProfile.Closed users(Shape shape) {
        return new LoadProfile.Closed(shape, ThinkTime.NONE, Optional.empty(), Course.of(Duration.ZERO, TIMEOUT));
    }

    private static LoadProfile.Open arrivals(Shape shape, LoadProfile.Spacing spacing) {
        return new LoadProfile.Open(shape, spacing, 10, Course.of(Duration.ZERO, TIMEOUT));
    }

    private static Shape random(Random random) {
        var segments = new ArrayList<Segment>();
        for (int i = 0; i < 1 + random.nextInt(6); i++) {
            Duration length = s(1 + random.nextInt(20));
            double level = random.nextInt(60);
            segments.add(switch (random.nextInt(4)) {
                case 0 -> Segment.hold(length, level);
                case 1 -> Segment.ramp(length, level);
                case 2 -> Segment.step(length, level, 1 + random.nextInt(5));
                default -> Segment.burst(length, level);
            });
        }
        return new Shape(segments);
    }

    /** Common practice, no source: ramp 0 to 100 in 15 s, hold 30 s, ramp to 0 in 15 s is 4,500 user-seconds. */
    @Test
    void rampHoldRampIsItsArea() {
        Curve curve = Curve.of(TRAPEZE);
        assertThat(curve.area()).isEqualTo(4500);
        assertThat(curve.length()).isEqualTo(60);
        assertThat(curve.at(7.5)).isEqualTo(50);
        assertThat(curve.at(30)).isEqualTo(100);
        assertThat(curve.at(52.5)).isEqualTo(50);
        assertThat(curve.area(15)).isEqualTo(750);
    }

    /** Common practice, no source: 500 users over 10 s start one every 0.02 s; 10 users over 100 s one every 10 s. */
    @Test
    void usersOfARampComeOneByOne() {
        for (double[] fact : new double[][]{{500, 10, 0.02}, {10, 100, 10}}) {
            Curve curve = Curve.of(new Shape(List.of(Segment.ramp(s(fact[1]), fact[0]), Segment.hold(s(5), fact[0]))));
            for (int user = 1; user < fact[0]; user++) {
                Curve.Stay one = curve.stays(user).getFirst();
                long gap = one.fromNanos() - curve.stays(user - 1).getFirst().fromNanos();
                assertThat(gap / 1e9).isCloseTo(fact[2], within(1e-6));
                assertThat(one.atOnce()).isFalse();
            }
        }
    }

    @Test
    void burstsGoBackAndStairsAreEqual() {
        Curve curve = Curve.of(new Shape(List.of(Segment.hold(s(10), 20), Segment.burst(s(2), 200),
                Segment.hold(s(3), 20), Segment.step(s(8), 60, 4), Segment.ramp(s(10), 0))));
        assertThat(curve.at(5)).isEqualTo(20);
        assertThat(curve.at(11)).isEqualTo(200);
        assertThat(curve.at(12)).isEqualTo(20);
        assertThat(new double[]{curve.at(15), curve.at(17), curve.at(19), curve.at(21)}).containsExactly(30, 40, 50,
                60);
        assertThat(curve.at(28)).isCloseTo(30, within(1e-9));
        Curve again = Curve.of(new Shape(List.of(Segment.hold(s(10), 20), Segment.burst(s(2), 200),
                Segment.ramp(s(10), 40))));
        assertThat(again.at(12)).as("a ramp after a burst begins where the burst began").isEqualTo(20);
    }

    @Test
    void warmUpAndWindDownSurroundTheMeasuredPart() {
        Course course = Course.of(s(4), TIMEOUT).withWarmUpLevel(25).withWindDown(s(10));
        Curve curve = Curve.of(users(Shape.flat(s(20), 50)).withCourse(course));
        assertThat(curve.length()).isEqualTo(34);
        assertThat(curve.at(3)).isEqualTo(25);
        assertThat(curve.at(4)).isEqualTo(50);
        assertThat(curve.at(29)).isEqualTo(25);
        assertThat(curve.area()).isEqualTo(4 * 25 + 20 * 50 + 10 * 25.0);
    }

    @Test
    void theTimesOfAllUsersAddUpToTheArea() {
        var random = new Random(7);
        for (int i = 0; i < 200; i++) {
            Shape shape = random(random);
            Curve curve = Curve.of(shape);
            long sum = 0;
            for (int user = 0; user < 60; user++) {
                long before = -1;
                for (Curve.Stay stay : curve.stays(user)) {
                    assertThat(stay.fromNanos()).isGreaterThanOrEqualTo(before).isLessThan(stay.toNanos());
                    before = stay.toNanos();
                    sum += stay.toNanos() - stay.fromNanos();
                }
            }
            // levels between two whole numbers are rounded, to half a user for the time they last
            assertThat(sum / 1e9).as(shape.toString()).isCloseTo(curve.area(), within(0.5 * curve.length()));
            double stepless = shape.segments().stream().allMatch(one -> one.kind() == Segment.Kind.HOLD
                    || one.kind() == Segment.Kind.BURST) ? 1e-6 : 0.5 * curve.length();
            assertThat(sum / 1e9).isCloseTo(curve.area(), within(stepless));
        }
    }

    @Test
    void arrivalsAreTheAreaWithinOneAndComeInOrder() {
        var random = new Random(11);
        for (int i = 0; i < 200; i++) {
            Shape shape = random(random);
            Curve curve = Curve.of(shape);
            Arrivals arrivals = Arrivals.of(arrivals(shape, LoadProfile.Spacing.CONSTANT), 1);
            assertThat(Math.abs(arrivals.count() - curve.area())).as(shape.toString()).isLessThan(1);
            for (double second = 0; second <= curve.length(); second += 0.73) {
                long due = arrivals.dueBefore((long) (second * 1e9));
                assertThat(Math.abs(due - curve.area(second))).as("at %s of %s", second, shape)
                        .isLessThanOrEqualTo(1 + 1e-6);
            }
            long before = -1;
            for (long index = 0; index < arrivals.count(); index++) {
                long due = arrivals.dueNanos(index);
                assertThat(due).isGreaterThanOrEqualTo(before);
                assertThat(curve.area(due / 1e9)).isCloseTo(index, within(1e-3));
                before = due;
            }
        }
    }

    @Test
    void oneRateGivesTheSameInstantsAsAlways() {
        Arrivals arrivals = Arrivals.of(new LoadProfile.Open(3, LoadProfile.Spacing.CONSTANT, 1, s(1), s(2), TIMEOUT),
                1);
        assertThat(arrivals.count()).isEqualTo(9);
        assertThat(arrivals.dueNanos(1)).isEqualTo(333_333_333);
        assertThat(arrivals.dueNanos(3)).isEqualTo(1_000_000_000);
    }

    @Test
    void aNumberOfArrivalsEndsThem() {
        LoadProfile.Open load = new LoadProfile.Open(10, LoadProfile.Spacing.CONSTANT, 1, s(2), s(100), TIMEOUT);
        Arrivals arrivals = Arrivals.of(load.withCourse(load.course().withVisits(50)), 1);
        assertThat(arrivals.count()).as("20 of the warm-up and 50").isEqualTo(70);
        assertThat(arrivals.dueBefore(s(100).toNanos())).isEqualTo(70);
    }

    /**
     * Kolmogorov-Smirnov against the exponential distribution, on the scale of the curve's area; critical value 1.358 / sqrt(n)
     * at 5 % (Massey 1951, "The Kolmogorov-Smirnov test for goodness of fit", table 1, n over 35). Over many seeds one in
     * twenty is beyond it; the seed that a plan has by default, 1, is not with one rate.
     */
    @Test
    void poissonArrivalsFollowTheCurve() {
        assertThat(isBeyond(Shape.flat(s(60), 100), 1)).isFalse();
        for (Shape shape : List.of(Shape.flat(s(60), 100), TRAPEZE,
                new Shape(List.of(Segment.hold(s(20), 20), Segment.burst(s(5), 400), Segment.step(s(20), 80, 4))))) {
            long beyond = java.util.stream.LongStream.rangeClosed(1, 300).filter(seed -> isBeyond(shape, seed)).count();
            // three standard errors of a share of 5 % among 300
            assertThat(beyond / 300.0).as(shape.toString()).isBetween(0.012, 0.088);
        }
    }

    private static boolean isBeyond(Shape shape, long seed) {
        Curve curve = Curve.of(shape);
        Arrivals arrivals = Arrivals.of(arrivals(shape, LoadProfile.Spacing.POISSON), seed);
        int n = (int) arrivals.count();
        assertThat((double) n).isCloseTo(curve.area(), within(5 * Math.sqrt(curve.area())));
        var gaps = new double[n];
        double before = 0;
        for (int i = 0; i < n; i++) {
            double at = curve.area(arrivals.dueNanos(i) / 1e9);
            gaps[i] = at - before;
            before = at;
        }
        Arrays.sort(gaps);
        double distance = 0;
        for (int i = 0; i < n; i++) {
            double expected = -Math.expm1(-gaps[i]);
            distance = Math.max(distance, Math.max(expected - (double) i / n, (i + 1.0) / n - expected));
        }
        return distance > 1.358 / Math.sqrt(n);
    }

    @Test
    void aLevelOfASearchIsHeld() {
        LoadProfile.Single load = arrivals(TRAPEZE, LoadProfile.Spacing.CONSTANT)
                .withCourse(new Course(s(3), OptionalDouble.empty(), Duration.ZERO, java.util.OptionalLong.empty(),
                        TIMEOUT, Optional.of(new kadrem.core.study.LevelSearch.Ladder(10, 2, 0, 5, 0.05)), List.of()))
                .at(40);
        assertThat(load.shape()).isEqualTo(Shape.flat(s(60), 40));
        assertThat(load.course().search()).isEmpty();
        assertThat(load.warmUp()).isEqualTo(s(3));
    }
}
