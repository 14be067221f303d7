package kadrem.core.scaling;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

import org.hipparchus.exception.MathRuntimeException;
import kadrem.core.stats.Interval;
import kadrem.core.stats.PairedT;
import org.hipparchus.linear.Array2DRowRealMatrix;
import org.hipparchus.linear.ArrayRealVector;
import org.hipparchus.optim.nonlinear.vector.leastsquares.LeastSquaresBuilder;
import org.hipparchus.optim.nonlinear.vector.leastsquares.LeastSquaresOptimizer.Optimum;
import org.hipparchus.optim.nonlinear.vector.leastsquares.LevenbergMarquardtOptimizer;
import org.hipparchus.optim.nonlinear.vector.leastsquares.MultivariateJacobianFunction;
import org.hipparchus.util.Pair;

/**
 * Throughput against users by the universal scalability law, X(N) = γN / (1 + α(N−1) + βN(N−1)), fitted by least squares of X
 * with α, β ≥ 0. Source: Gunther, Guerrilla Capacity Planning, 2007. Where the best fit without bounds lies outside them, the
 * best of those on a bound is taken.
 *
 * @param gamma γ, calls a second of one user alone
 * @param alpha α, the share of the work that stands in line
 * @param beta β, the cost of agreement between those at work
 * @param residualSum sum of the squared residuals
 */
public record ScalabilityFit(double gamma, double alpha, double beta, double residualSum) {
    private static final int MAX_EVALUATIONS = 2_000;
    private static final int MIN_ROUNDS = 6;
    private static final double CONFIDENCE = 0.95;
    private static final double TINY = 1e-13;
    /** Fewer distinct levels than parameters say nothing. */
    private static final int MIN_LEVELS = 4;

    /** One level: how many users, and the throughput that came of it. */
    public record Point(double users, double throughput) {
    }

    /** Which of α and β are fitted; the others are 0. */
    private record Free(boolean alpha, boolean beta) {
    }

    /** The fit; empty for fewer than {@value #MIN_LEVELS} different levels, or where none can be found. */
    public static Optional<ScalabilityFit> of(List<Point> points) {
        if (points.stream().mapToDouble(Point::users).distinct().count() < MIN_LEVELS) {
            return Optional.empty();
        }
        Optional<ScalabilityFit> free = fit(points, new Free(true, true)).filter(ScalabilityFit::isInBounds);
        if (free.isPresent()) {
            return free;
        }
        var onBounds = new ArrayList<ScalabilityFit>();
        for (Free some : List.of(new Free(true, false), new Free(false, true), new Free(false, false))) {
            fit(points, some).filter(ScalabilityFit::isInBounds).ifPresent(onBounds::add);
        }
        return onBounds.stream().min(java.util.Comparator.comparingDouble(ScalabilityFit::residualSum));
    }

    /**
     * A 95 % interval of the ceiling over rounds: the jackknife of its logarithm, one round left out at a time, with t over the rounds.
     * Sources: Tukey, Bias and confidence in not quite large samples, Annals of Mathematical Statistics 29, 1958; Miller, The
     * jackknife: a review, Biometrika 61, 1974. Its coverage is simulated in the tests.
     *
     * @param rounds the points of each round
     * @return lower and upper bound; empty for fewer than {@value #MIN_ROUNDS} rounds, or where a fit has no ceiling
     */
    public static Optional<double[]> ceilingInterval(List<List<Point>> rounds) {
        int n = rounds.size();
        if (n < MIN_ROUNDS) {
            return Optional.empty();
        }
        double all = logCeiling(rounds, -1);
        var pseudo = new double[n];
        for (int i = 0; i < n; i++) {
            pseudo[i] = n * all - (n - 1) * logCeiling(rounds, i);
        }
        if (!Arrays.stream(pseudo).allMatch(Double::isFinite)) {
            return Optional.empty();
        }
        Interval interval = PairedT.of(pseudo).orElseThrow().interval(CONFIDENCE);
        return Optional.of(new double[]{Math.exp(interval.low()), Math.exp(interval.high())});
    }

    /** Of the fit to all rounds but one; NaN where it has no ceiling. */
    private static double logCeiling(List<List<Point>> rounds, int without) {
        var points = new ArrayList<Point>();
        for (int i = 0; i < rounds.size(); i++) {
            if (i != without) {
                points.addAll(rounds.get(i));
            }
        }
        return of(points).map(ScalabilityFit::ceiling).orElse(OptionalDouble.empty()).stream().map(Math::log)
                .findFirst()
                .orElse(Double.NaN);
    }

    private boolean isInBounds() {
        return gamma > 0 && alpha >= 0 && beta >= 0;
    }

    private static Optional<ScalabilityFit> fit(List<Point> points, Free free) {
        double first = points.stream().filter(point -> point.users() > 0)
                .mapToDouble(point -> point.throughput() / point.users()).max().orElse(1);
        double[] start = free.alpha() && free.beta()
                ? new double[]{first, 0.05, 1e-4}
                : free.alpha()
                        ? new double[]{first, 0.05}
                        : free.beta() ? new double[]{first, 1e-4} : new double[]{first};
        MultivariateJacobianFunction model = at -> {
            double[] values = new double[points.size()];
            double[][] slopes = new double[points.size()][start.length];
            double alpha = free.alpha() ? at.getEntry(1) : 0;
            double beta = free.beta() ? at.getEntry(start.length - 1) : 0;
            for (int i = 0; i < values.length; i++) {
                double n = points.get(i).users();
                double below = 1 + alpha * (n - 1) + beta * n * (n - 1);
                values[i] = at.getEntry(0) * n / below;
                slopes[i][0] = n / below;
                double rest = -at.getEntry(0) * n / (below * below);
                if (free.alpha()) {
                    slopes[i][1] = rest * (n - 1);
                }
                if (free.beta()) {
                    slopes[i][start.length - 1] = rest * n * (n - 1);
                }
            }
            return new Pair<>(new ArrayRealVector(values, false), new Array2DRowRealMatrix(slopes, false));
        };
        try {
            Optimum found = new LevenbergMarquardtOptimizer().withCostRelativeTolerance(TINY)
                    .withParameterRelativeTolerance(TINY).optimize(new LeastSquaresBuilder().model(model).start(start)
                            .target(points.stream().mapToDouble(Point::throughput).toArray())
                            .maxEvaluations(MAX_EVALUATIONS).maxIterations(MAX_EVALUATIONS).build());
            double[] at = found.getPoint().toArray();
            return Optional.of(new ScalabilityFit(at[0], free.alpha() ? at[1] : 0,
                    free.beta() ? at[at.length - 1] : 0, found.getCost() * found.getCost()));
        } catch (MathRuntimeException _) {
            // no optimum in so many steps: these points follow no such law
            return Optional.empty();
        }
    }

    /** X(N). */
    public double throughput(double users) {
        return gamma * users / (1 + alpha * (users - 1) + beta * users * (users - 1));
    }

    /** N*, the number of users beyond which the throughput falls; empty where it never does. */
    public OptionalDouble peakUsers() {
        return beta > 0 && alpha < 1 ? OptionalDouble.of(Math.sqrt((1 - alpha) / beta)) : OptionalDouble.empty();
    }

    /** The highest throughput: at the peak, or γ/α where there is none; empty where it grows without end. */
    public OptionalDouble ceiling() {
        if (peakUsers().isPresent()) {
            return OptionalDouble.of(throughput(peakUsers().getAsDouble()));
        }
        return alpha > 0 ? OptionalDouble.of(gamma / alpha) : OptionalDouble.empty();
    }
}
