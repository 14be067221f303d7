package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.lang.management.ManagementFactory;
import java.util.Arrays;
import java.util.SplittableRandom;
import java.util.stream.IntStream;

import org.junit.jupiter.api.Test;

class LaggedAssociationTest {
    /** R 4.2.2: cor(mtcars$mpg, mtcars$cyl, method = "spearman"), a data set with many ties (Henderson and Velleman 1981). */
    private static final double[] MPG = {21.0, 21.0, 22.8, 21.4, 18.7, 18.1, 14.3, 24.4, 22.8, 19.2, 17.8, 16.4, 17.3,
            15.2,
            10.4, 10.4, 14.7, 32.4, 30.4, 33.9, 21.5, 15.5, 15.2, 13.3, 19.2, 27.3, 26.0, 30.4, 15.8, 19.7, 15.0, 21.4};
    private static final double[] CYLINDERS = {6, 6, 4, 6, 8, 6, 8, 4, 4, 6, 6, 8, 8, 8, 8, 8, 8, 4, 4, 4, 4, 8, 8, 8,
            8, 4, 4,
            4, 8, 6, 8, 4};
    /** The first 40 years of R's data set lynx (Brockwell and Davis 1991). */
    private static final double[] LYNX = {269, 321, 585, 871, 1475, 2821, 3928, 5943, 4950, 2577, 523, 98, 184, 279,
            409,
            2285, 2685, 3409, 1824, 409, 151, 45, 68, 213, 546, 1033, 2129, 2536, 957, 361, 377, 225, 360, 731, 1638,
            2725,
            2871, 2119, 684, 299};

    @Test
    void spearmanAgreesWithR() {
        assertThat(LaggedAssociation.spearman(MPG, CYLINDERS)).isCloseTo(-0.910801310862, within(1e-12));
    }

    /** R 4.2.2: cor(a[1:(40-k)], a[(1+k):40], method = "spearman") for k = 0 ... 5. */
    @Test
    void delayedSpearmanAgreesWithR() {
        double[] expected = {1, 0.787934001417, 0.328408842197, -0.176289270895, -0.585660960227, -0.732805715086};
        for (int k = 0; k < expected.length; k++) {
            assertThat(LaggedAssociation.spearman(Arrays.copyOfRange(LYNX, 0, 40 - k), Arrays.copyOfRange(LYNX, k, 40)))
                    .isCloseTo(expected[k], within(1e-12));
        }
    }

    @Test
    void theDelayIsFoundByWhichOneCourseFollowsTheOther() {
        double[] first = Arrays.copyOfRange(LYNX, 0, 30);
        double[] second = IntStream.range(0, 30).mapToDouble(i -> i < 3 ? 1000 : 2 * LYNX[i - 3]).toArray();
        assertThat(LaggedAssociation.of(first, second, 5, 0)).hasValueSatisfying(found -> {
            assertThat(found.delay()).isEqualTo(3);
            assertThat(found.rho()).isCloseTo(1, within(1e-12));
            assertThat(found.pairs()).isEqualTo(27);
            assertThat(found.p()).isLessThan(0.01);
        });
    }

    /** A course that wanders: each value is 0.9 of the one before and a normal step. */
    private static double[] wandering(SplittableRandom random, int length) {
        var course = new double[length];
        double now = random.nextGaussian() / Math.sqrt(1 - 0.9 * 0.9);
        for (int i = 0; i < length; i++) {
            course[i] = now;
            now = 0.9 * now + random.nextGaussian();
        }
        return course;
    }

    /**
     * By simulation, 400 pairs of courses that have nothing to do with each other: p is at most 5 % in about 5 %, and a correlation of
     * 0.6 at some delay, which was called one before, shows in many more.
     */
    @Test
    void coursesThatOnlyWanderAreNotCalledTogether() {
        var random = new SplittableRandom(11);
        int likely = 0;
        int strong = 0;
        int pairs = 400;
        for (int i = 0; i < pairs; i++) {
            LaggedAssociation.Result found = LaggedAssociation.of(wandering(random, 40), wandering(random, 40), 5, 0)
                    .orElseThrow();
            likely += found.p() <= 0.05 ? 1 : 0;
            strong += Math.abs(found.rho()) >= 0.6 ? 1 : 0;
        }
        assertThat(strong).as("strong by chance").isGreaterThan(pairs / 5);
        // three standard errors above 5 %
        assertThat(likely).isBetween(1, 33);
    }

    /** The second follows the first, with noise of its own. */
    @Test
    void aCourseThatFollowsIsFound() {
        var random = new SplittableRandom(12);
        int found = 0;
        for (int i = 0; i < 50; i++) {
            double[] first = random.doubles(40).toArray();
            double[] second = Arrays.stream(first).map(value -> value + 0.15 * random.nextGaussian()).toArray();
            found += LaggedAssociation.of(first, second, 5, 0.6).filter(one -> one.p() <= 0.002).isPresent() ? 1 : 0;
        }
        assertThat(found).isGreaterThan(45);
    }

    /** By the processor's time, which the rest of a busy machine leaves as it is. */
    @Test
    void aLongRunIsLookedAtInSecondsNotMinutes() {
        var random = new SplittableRandom(13);
        double[] first = wandering(random, 2 * 3600);
        double[] second = Arrays.stream(first).map(value -> value + random.nextGaussian()).toArray();
        long begun = ManagementFactory.getThreadMXBean().getCurrentThreadCpuTime();
        assertThat(LaggedAssociation.of(first, second, 5, 0.6).orElseThrow().p()).isLessThan(0.01);
        assertThat((ManagementFactory.getThreadMXBean().getCurrentThreadCpuTime() - begun) / 1e9).isLessThan(10);
    }

    @Test
    void whatNeverChangesGoesWithNothing() {
        assertThat(LaggedAssociation.of(new double[20], Arrays.copyOfRange(LYNX, 0, 20), 5, 0)).isEmpty();
        assertThat(LaggedAssociation.of(new double[]{1, 2, 3}, new double[]{1, 2, 3}, 5, 0)).isEmpty();
        assertThatThrownBy(() -> LaggedAssociation.of(new double[3], new double[4], 1, 0))
                .isInstanceOf(IllegalArgumentException.class);
    }
}
