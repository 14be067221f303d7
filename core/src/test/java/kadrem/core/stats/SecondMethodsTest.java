package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.SplittableRandom;
import java.util.stream.IntStream;

import org.junit.jupiter.api.Test;

/**
 * Methods beside the signed-rank test, against published data. The values are those of R 4.2.2 by comparison.R beside
 * comparison.txt in the test resources, unless it says otherwise.
 */
class SecondMethodsTest {
    /** Hollander and Wolfe 1973, page 140: times of 22 players by three ways of rounding first base. */
    private static final double[][] FIRST_BASE = {{5.40, 5.50, 5.55}, {5.85, 5.70, 5.75}, {5.20, 5.60, 5.50},
            {5.55, 5.50, 5.40}, {5.90, 5.85, 5.70}, {5.45, 5.55, 5.60}, {5.40, 5.40, 5.35}, {5.45, 5.50, 5.35},
            {5.25, 5.15, 5.00}, {5.85, 5.80, 5.70}, {5.25, 5.20, 5.10}, {5.65, 5.55, 5.45}, {5.60, 5.35, 5.45},
            {5.05, 5.00, 4.95}, {5.50, 5.50, 5.40}, {5.45, 5.55, 5.50}, {5.55, 5.55, 5.35}, {5.45, 5.50, 5.55},
            {5.50, 5.45, 5.25}, {5.65, 5.60, 5.40}, {5.70, 5.65, 5.55}, {6.30, 6.30, 6.25}};
    /** Student 1908: hours of sleep gained by two drugs. */
    private static final double[] FIRST_DRUG = {0.7, -1.6, -0.2, -1.2, -0.1, 3.4, 3.7, 0.8, 0.0, 2.0};
    private static final double[] SECOND_DRUG = {1.9, 0.8, 1.1, 0.1, -0.1, 4.4, 5.5, 1.6, 4.6, 3.4};
    /** Hollander and Wolfe 1973, page 69: permeability of the placenta. */
    private static final double[] AT_TERM = {0.80, 0.83, 1.89, 1.04, 1.45, 1.38, 1.91, 1.64, 0.73, 1.46};
    private static final double[] EARLY = {1.15, 0.88, 0.90, 0.74, 1.21};

    /** qmvt(0.95, tail = "both.tails", df = 10, corr = 1/2). */
    private static final double DUNNETT = 2.756799;

    private static double[] sleepDifferences(int sign) {
        var d = new double[FIRST_DRUG.length];
        Arrays.setAll(d, i -> sign * (SECOND_DRUG[i] - FIRST_DRUG[i]));
        return d;
    }

    @Test
    void friedmansTestOfThreeWaysOfRoundingFirstBase() {
        Friedman test = Friedman.of(List.of(FIRST_BASE));
        assertThat(test.chiSquared()).isCloseTo(11.142857142857, within(1e-9));
        assertThat(test.degrees()).isEqualTo(2);
        assertThat(test.p()).isCloseTo(0.003805040776, within(1e-10));
    }

    @Test
    void friedmansTestOfBlocksWithoutADifferenceFindsNone() {
        assertThat(Friedman.of(List.of(new double[]{3, 3}, new double[]{1, 1})).p()).isEqualTo(1);
        assertThatThrownBy(() -> Friedman.of(List.of(new double[]{1, 2}, new double[]{1, 2, 3})))
                .isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void studentsSleepers() {
        PairedT test = PairedT.of(sleepDifferences(-1)).orElseThrow();
        assertThat(test.t()).isCloseTo(-4.062127683382, within(1e-9));
        assertThat(test.p()).isCloseTo(0.002832890197, within(1e-10));
        assertThat(test.interval(0.95).low()).isCloseTo(-2.459885763277, within(1e-9));
        assertThat(test.interval(0.95).high()).isCloseTo(-0.700114236723, within(1e-9));
        assertThat(PairedT.of(1)).isEmpty();
        assertThat(PairedT.of(2, 2, 2).orElseThrow().p()).isZero();
    }

    /** Against a million draws by another implementation; the tolerance is four times the simulation error of 10,000 draws. */
    @Test
    void theBootstrapIntervalOfTheMean() {
        Interval sleep = StudentisedBootstrap.of(10, 7).interval(sleepDifferences(1), 0.95).orElseThrow();
        assertThat(sleep.low()).isCloseTo(0.9492, within(0.052));
        assertThat(sleep.high()).isCloseTo(3.1034, within(0.068));
        double[] skewed = {.02, .01, .05, .03, .40, .02, .07, .01, .12, .04};
        Interval skew = StudentisedBootstrap.of(10, 7).interval(skewed, 0.95).orElseThrow();
        assertThat(skew.low()).isCloseTo(0.02275, within(0.0027));
        assertThat(skew.high()).isCloseTo(0.43285, within(0.029));
    }

    @Test
    void theBootstrapIsFixedByItsSeedAndSaysNothingOfFourRounds() {
        assertThat(StudentisedBootstrap.of(10, 3).interval(sleepDifferences(1), 0.9))
                .isEqualTo(StudentisedBootstrap.of(10, 3).interval(sleepDifferences(1), 0.9));
        assertThat(StudentisedBootstrap.of(4, 3).interval(new double[]{1, 2, 3, 4}, 0.95)).isEmpty();
        assertThat(StudentisedBootstrap.of(6, 3).interval(new double[]{2, 2, 2, 2, 2, 2}, 0.95)).hasValue(
                new Interval(2, 2, 0.95));
    }

    @Test
    void theBandOfOneFigureIsStudentsInterval() {
        double[] d = sleepDifferences(1);
        SupTBand band = SupTBand.of(Arrays.stream(d).mapToObj(one -> new double[]{one}).toArray(double[][]::new))
                .orElseThrow();
        assertThat(band.mean(0)).isCloseTo(1.58, within(1e-12));
        // quantile of |t| on 9 degrees of freedom; 4,000 draws leave an error of 1.5 %
        assertThat(band.halfWidth(0.95)).isCloseTo(2.262157, within(3 * 0.015 * 2.262157));
        assertThat(band.at(0, 0.95).high()).isCloseTo(2.459885763277, within(0.05));
    }

    /** Three figures of 11 rounds with correlations of 1/2: Dunnett's two-sided quantile on 10 degrees of freedom, by R's qmvt. */
    @Test
    void theBandOfThreeFiguresIsAsWideAsDunnetts() {
        var rounds = new double[11][3];
        for (int r = 0; r < 11; r++) {
            for (int k = 0; k < 3; k++) {
                rounds[r][k] = helmert(r, 0) + helmert(r, k + 1);
            }
        }
        assertThat(SupTBand.of(rounds).orElseThrow().halfWidth(0.95)).isCloseTo(DUNNETT, within(3 * 0.015 * DUNNETT));
        assertThat(SupTBand.of(Arrays.copyOf(rounds, 4))).isEmpty();
    }

    /** Contrasts of unit length, each uncorrelated with every other. */
    private static double helmert(int round, int contrast) {
        int before = contrast + 1;
        return (round < before ? 1 : round == before ? -before : 0) / Math.sqrt(before * (before + 1.0));
    }

    /** Fourteen figures that are the more alike the nearer they are, of few rounds: 95 % of bands hold all of them, within three standard errors. */
    @Test
    void aBandHoldsAllFiguresAtOnce() {
        for (int n : new int[]{6, 12}) {
            var random = new SplittableRandom(11);
            int held = 0;
            int studies = 1_800 / n;
            for (int i = 0; i < studies; i++) {
                var rounds = new double[n][14];
                for (double[] round : rounds) {
                    double last = random.nextGaussian();
                    for (int k = 0; k < round.length; k++) {
                        last = 0.9 * last + Math.sqrt(1 - 0.81) * random.nextGaussian();
                        round[k] = last;
                    }
                }
                SupTBand band = SupTBand.of(rounds).orElseThrow();
                held += IntStream.range(0, 14).allMatch(k -> band.at(k, 0.95).contains(0)) ? 1 : 0;
            }
            assertThat((double) held / studies).as("%d rounds", n).isCloseTo(0.95,
                    within(3 * Math.sqrt(0.95 * 0.05 / studies)));
        }
    }

    @Test
    void theRankSumOfTwoUnpairedSamples() {
        RankSum test = RankSum.of(EARLY, AT_TERM);
        assertThat(test.u()).isEqualTo(35);
        assertThat(test.p()).isCloseTo(0.2544122544, within(1e-9));
        assertThat(test.estimate()).isCloseTo(0.305, within(1e-9));
        Interval interval = test.interval(0.95).orElseThrow();
        assertThat(interval.low()).isCloseTo(-0.15, within(1e-9));
        assertThat(interval.high()).isCloseTo(0.76, within(1e-9));
        assertThat(interval.achievedConfidence()).isGreaterThanOrEqualTo(0.95);
        assertThat(test.delta()).isCloseTo(0.4, within(1e-9));
        RankSum back = RankSum.of(AT_TERM, EARLY);
        assertThat(back.p()).isCloseTo(test.p(), within(1e-12));
        assertThat(back.estimate()).isCloseTo(-test.estimate(), within(1e-12));
    }

    @Test
    void tiesOfUnpairedSamplesAreCountedExactly() {
        RankSum test = RankSum.of(new double[]{1, 2, 2, 3, 5}, new double[]{2, 4, 4, 6});
        assertThat(test.u()).isEqualTo(15);
        assertThat(test.p()).isCloseTo(0.2698412698, within(1e-9));
        assertThat(RankSum.of(new double[]{1, 2}, new double[]{3, 4}).interval(0.95)).isEmpty();
        assertThatThrownBy(() -> RankSum.of(new double[0], EARLY)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> RankSum.of(new double[]{Double.NaN}, EARLY))
                .isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> RankSum.of(new double[100], new double[100])).hasMessageContaining("120");
    }

    @Test
    void theNoncentralT() {
        assertThat(NoncentralT.cumulative(2, 5, 1)).isCloseTo(0.7780746626, within(1e-9));
        assertThat(NoncentralT.cumulative(-1, 10, 0.5)).isCloseTo(0.07477544588, within(1e-9));
        assertThat(NoncentralT.cumulative(3.5, 6.5, 4)).isCloseTo(0.3190185564, within(1e-9));
        assertThat(NoncentralT.cumulative(2.4469, 6, 10)).isCloseTo(9.687556174e-10, within(1e-12));
        assertThat(NoncentralT.cumulative(0, 4, -1.2)).isCloseTo(0.8849303298, within(1e-9));
    }

    @Test
    void theRoundsThatAPairedComparisonTakes() {
        assertThat(PairedPower.rounds(1, 1, 0.05, 0.9).orElseThrow()).isCloseTo(12.58546301, within(1e-7));
        assertThat(PairedPower.rounds(0.05, 0.06, 0.05, 0.8).orElseThrow()).isCloseTo(13.34957056, within(1e-7));
        assertThat(PairedPower.difference(9, 0.06, 0.05 / 3, 0.8).orElseThrow()).isCloseTo(0.07935323906, within(1e-9));
        assertThat(PairedPower.rounds(0, 1, 0.05, 0.8)).isEmpty();
        assertThat(PairedPower.rounds(1e-9, 1, 0.05, 0.8)).isEmpty();
    }

    @Test
    void sharesFromCounts() {
        assertThat(BinomialIntervals.wilson(682, 925, 0.95).low()).isCloseTo(0.707995987620, within(1e-10));
        assertThat(BinomialIntervals.wilson(682, 925, 0.95).high()).isCloseTo(0.764635800971, within(1e-10));
        assertThat(BinomialIntervals.wilson(0, 1000, 0.95).low()).isCloseTo(0, within(1e-12));
        assertThat(BinomialIntervals.wilson(0, 1000, 0.95).high()).isCloseTo(0.003826758486, within(1e-10));
        assertThat(BinomialIntervals.clopperPearson(682, 925, 0.95).low()).isCloseTo(0.707668264079, within(1e-8));
        assertThat(BinomialIntervals.clopperPearson(682, 925, 0.95).high()).isCloseTo(0.765406558242, within(1e-8));
        assertThat(BinomialIntervals.clopperPearson(0, 1000, 0.95).high()).isCloseTo(0.003682083897, within(1e-9));
    }

    @Test
    void theValuesThatEncloseAPercentile() {
        assertThat(PercentileInterval.of(100, 0.5, 0.95)).hasValueSatisfying(found -> {
            assertThat(found.low()).isEqualTo(40);
            assertThat(found.high()).isEqualTo(61);
            assertThat(found.achievedConfidence()).isCloseTo(0.9647997998, within(1e-9));
        });
        assertThat(PercentileInterval.of(1000, 0.99, 0.95)).hasValueSatisfying(found -> {
            assertThat(found.low()).isEqualTo(983);
            assertThat(found.high()).isEqualTo(997);
        });
        assertThat(PercentileInterval.of(100, 0.9, 0.95).orElseThrow().high()).isEqualTo(96);
        assertThat(PercentileInterval.of(20, 0.99, 0.95)).as("no value of twenty lies surely above p99").isEmpty();
    }

    @Test
    void quantilesOfFewValues() {
        double[] values = {12, 15, 11, 20, 35, 9, 14};
        assertThat(Quantiles.of(values, 0.5)).isEqualTo(14);
        assertThat(Quantiles.of(values, 0.9)).isCloseTo(34, within(1e-9));
        assertThat(Quantiles.of(values, 0.95)).isCloseTo(35, within(1e-9));
    }

    /** With all differences on one side and equal, each bet wins in full: the mean over λ of (1 + λ)^n, half of it lost. */
    @Test
    void theMartingaleOfDifferencesThatAreAllAlike() {
        double expected = 0;
        for (double bet : new double[]{0.2, 0.4, 0.6, 0.8, 0.9}) {
            expected += (Math.pow(1 + bet, 8) + Math.pow(1 - bet, 8)) / 10;
        }
        // magnitudes that grow have rank 1 of 1, 2 of 2 …
        assertThat(SymmetryMartingale.of(1, 2, 3, 4, 5, 6, 7, 8).p()).isCloseTo(1 / expected, within(1e-12));
        assertThat(SymmetryMartingale.of(-1, -2, -3, -4, -5, -6, -7, -8).p()).isCloseTo(1 / expected, within(1e-12));
        assertThat(SymmetryMartingale.of(0, 0, 0).p()).isEqualTo(1);
        assertThatThrownBy(() -> SymmetryMartingale.of(Double.NaN)).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void theIntervalOfTheMartingaleHoldsTheEstimateAndMirrors() {
        double[] d = {0.11, 0.08, 0.12, 0.10, 0.09, 0.13, 0.07, 0.105, 0.115, 0.095, 0.1, 0.102};
        Interval interval = SymmetryMartingale.of(d).interval(0.95).orElseThrow();
        assertThat(interval.contains(SymmetryMartingale.of(d).estimate())).isTrue();
        assertThat(interval.low()).isPositive();
        Interval mirrored = SymmetryMartingale.of(Arrays.stream(d).map(x -> -x).toArray()).interval(0.95).orElseThrow();
        assertThat(mirrored.low()).isCloseTo(-interval.high(), within(1e-9));
        assertThat(mirrored.high()).isCloseTo(-interval.low(), within(1e-9));
        assertThat(SymmetryMartingale.of(1, 2).interval(0.95)).as("two rounds rule nothing out").isEmpty();
    }

    /** Against p at two thousand shifts each, asked for from the widest interval to the narrowest and the other way round. */
    @Test
    void theIntervalOfTheMartingaleIsThatOfItsP() {
        var random = new java.util.SplittableRandom(5);
        for (int study = 0; study < 20; study++) {
            // of sixty not every Walsh average is looked at
            double[] d = random.doubles(study % 4 == 0 ? 60 : 24).map(x -> x + 0.3 * random.nextGaussian()).toArray();
            SymmetryMartingale downwards = SymmetryMartingale.of(d);
            List<Double> confidences = List.of(0.99, 0.95, 0.9, 0.95, 0.8);
            for (double confidence : confidences) {
                Interval interval = downwards.interval(confidence).orElseThrow();
                assertThat(SymmetryMartingale.of(d).interval(confidence)).hasValue(interval);
                for (double shift = -1; shift < 2; shift += 0.0015) {
                    boolean inside = shift >= interval.low() && shift <= interval.high();
                    assertThat(inside || downwards.p(shift) <= 1 - confidence).as("%s at %s", shift, confidence)
                            .isTrue();
                }
                assertThat(downwards.p(interval.low() + 1e-9)).isGreaterThan(1 - confidence);
                assertThat(downwards.p(interval.high() - 1e-9)).isGreaterThan(1 - confidence);
            }
        }
    }

    /** The same as all choices of signs: an exhaustive check of the martingale property, sum over signs of the mean is 1. */
    @Test
    void theMartingaleHasMeanOneOverAllSigns() {
        double[] magnitudes = {0.3, 0.1, 0.7, 0.2, 0.5, 0.4};
        var ps = new ArrayList<Double>();
        for (int signs = 0; signs < 64; signs++) {
            var d = new double[6];
            int word = signs;
            Arrays.setAll(d, i -> (word >> i & 1) == 1 ? magnitudes[i] : -magnitudes[i]);
            ps.add(SymmetryMartingale.of(d).p());
        }
        for (double level : new double[]{0.5, 0.2, 0.1, 0.05}) {
            assertThat(ps.stream().filter(p -> p <= level).count() / 64.0).as("at " + level)
                    .isLessThanOrEqualTo(level);
        }
    }
}
