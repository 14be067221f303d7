package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.stream.Stream;

import kadrem.core.study.Factor;
import kadrem.core.study.Metric;
import kadrem.core.study.Scale;
import kadrem.core.study.Study;

/**
 * Which candidate is preferred under weights. The worth of a candidate is the weighted geometric mean, over metrics and judged
 * factors, of the ratio of the best value to its own (metrics where higher is better: of its own to the best; error shares by the
 * share of good calls; factors by their step). Values of metrics are geometric means over the rounds that all candidates have.
 * <p>
 * How certain the first place is: by the share of resampled rounds in which each comes first at the given weights; and how much
 * hangs on the weights: by the share of all possible weights, drawn evenly, at which each comes first (stochastic
 * multicriteria acceptability: Lahdelma, Salminen: SMAA-2, Operations Research 49, 2001). Candidates that no other beats or equals
 * in everything are marked (Pareto).
 * <p>
 * What takes time is computed once; {@link #rank} answers at once for other weights.
 */
public final class Preference {
    private static final int RESAMPLES = 2_000;
    private static final int WEIGHTS = 5_000;
    /** Logarithm beyond which a value is as bad as none. */
    private static final double WORST = 100;
    private static final double TIE = 1e-12;

    private final List<String> candidates;
    private final List<Criterion> criteria;
    private final int rounds;
    /** Logarithms of badness, lower is better: candidate, criterion. */
    private final double[][] means;
    /** The same of each resample of rounds. */
    private final double[][][] resampled;
    private final double[] shareOfWeights;

    private Preference(List<String> candidates, List<Criterion> criteria, int rounds, double[][][] logs, long seed) {
        this.candidates = candidates;
        this.criteria = criteria;
        this.rounds = rounds;
        var random = new SplittableRandom(seed);
        int[] every = new int[rounds];
        Arrays.setAll(every, i -> i);
        means = means(logs, every);
        resampled = new double[RESAMPLES][][];
        for (int i = 0; i < RESAMPLES; i++) {
            int[] drawn = random.ints(rounds, 0, rounds).toArray();
            resampled[i] = means(logs, drawn);
        }
        var firsts = new double[candidates.size()];
        for (int i = 0; i < WEIGHTS; i++) {
            // exponentials, made to add up to 1, are even over all weights
            double[] weights = random.doubles(criteria.size()).map(u -> -Math.log(1 - u)).toArray();
            first(means, weights, firsts);
        }
        shareOfWeights = Arrays.stream(firsts).map(count -> count / WEIGHTS).toArray();
    }

    private static double[][] means(double[][][] logs, int[] rounds) {
        var means = new double[logs.length][logs[0].length];
        for (int c = 0; c < logs.length; c++) {
            for (int k = 0; k < means[c].length; k++) {
                double sum = 0;
                for (int round : rounds) {
                    sum += logs[c][k][round];
                }
                means[c][k] = sum / rounds.length;
            }
        }
        return means;
    }

    /**
     * The preference among candidates.
     *
     * @return empty for fewer than two candidates, without anything that counts, or without a round that all have
     */
    public static Optional<Preference> of(Comparison comparison, List<String> candidates, long seed) {
        List<Integer> rounds = comparison.commonRounds(candidates);
        if (candidates.size() < 2 || rounds.isEmpty()) {
            return Optional.empty();
        }
        var criteria = new ArrayList<Criterion>();
        var logs = new double[candidates.size()][][];
        Arrays.setAll(logs, _ -> new double[0][]);
        for (Criterion criterion : criteria(comparison.study())) {
            double[][] ofAll = candidates.stream().map(id -> rounds.stream()
                    .mapToDouble(round -> badness(comparison, criterion, id, round)).toArray())
                    .toArray(double[][]::new);
            // what is not known of one candidate cannot tell between them
            if (Stream.of(ofAll).allMatch(row -> Arrays.stream(row).allMatch(Double::isFinite))) {
                criteria.add(criterion);
                for (int c = 0; c < logs.length; c++) {
                    logs[c] = Arrays.copyOf(logs[c], logs[c].length + 1);
                    logs[c][logs[c].length - 1] = ofAll[c];
                }
            }
        }
        return criteria.isEmpty()
                ? Optional.empty()
                : Optional
                        .of(new Preference(List.copyOf(candidates), List.copyOf(criteria), rounds.size(), logs, seed));
    }

    /** All that counts by the question, whether it is known or not. */
    public static List<Criterion> criteria(Study study) {
        return Stream.concat(
                study.question().deciders().stream().map(one -> Criterion.of(one.metric(), one.weight())),
                study.question().factors().stream().map(Criterion::of)).toList();
    }

    private static double badness(Comparison comparison, Criterion criterion, String candidate, int round) {
        if (criterion.factor().isPresent()) {
            Factor.Score score = criterion.factor().get().scores().get(candidate);
            return score == null ? Double.NaN : -Math.log(score.step());
        }
        Metric metric = criterion.metric().orElseThrow();
        double value = comparison.run(candidate, round).map(run -> run.value(metric).orElse(Double.NaN))
                .orElse(Double.NaN);
        double badness = metric.scale() == Scale.DIFFERENCE
                ? -Math.log(1 - value)
                : metric.higherIsBetter() ? -Math.log(value) : Math.log(value);
        // what was not reached is worse than any figure, and still no more than the weights let it be
        return Math.clamp(badness, -WORST, WORST);
    }

    /** Adds one to the candidate that comes first, and to several that do not differ their parts of it. */
    private static void first(double[][] badness, double[] weights, double[] wins) {
        var sums = new double[badness.length];
        double least = Double.POSITIVE_INFINITY;
        for (int c = 0; c < badness.length; c++) {
            for (int k = 0; k < weights.length; k++) {
                sums[c] += weights[k] * badness[c][k];
            }
            least = Math.min(least, sums[c]);
        }
        int tied = 0;
        for (double sum : sums) {
            tied += sum <= least + TIE ? 1 : 0;
        }
        for (int c = 0; c < sums.length; c++) {
            wins[c] += sums[c] <= least + TIE ? 1.0 / tied : 0;
        }
    }

    /** What counts and is known of all candidates, in the order of weights. */
    public List<Criterion> criteria() {
        return criteria;
    }

    /** Rounds that the values are of. */
    public int rounds() {
        return rounds;
    }

    /** The weights that the study gives. */
    public double[] ownWeights() {
        return criteria.stream().mapToDouble(Criterion::weight).toArray();
    }

    /**
     * One candidate in a ranking.
     *
     * @param worth 0 to 1; 1 is best in everything
     * @param shareOfResamples in which it comes first at these weights
     * @param shareOfWeights at which it comes first
     * @param unbeaten whether no other is at least as good in everything and better in something
     */
    public record Place(String candidate, double worth, double shareOfResamples, double shareOfWeights,
            boolean unbeaten) {
    }

    /**
     * The candidates, best first.
     *
     * @param weights one for each of {@link #criteria()}, not negative; if all are 0, all count alike
     */
    public List<Place> rank(double[] weights) {
        double sum = Arrays.stream(weights).sum();
        double[] shares = Arrays.stream(weights).map(w -> sum == 0 ? 1.0 / weights.length : w / sum).toArray();
        var wins = new double[candidates.size()];
        for (double[][] one : resampled) {
            first(one, shares, wins);
        }
        var places = new ArrayList<Place>();
        for (int c = 0; c < candidates.size(); c++) {
            double lost = 0;
            for (int k = 0; k < shares.length; k++) {
                lost += shares[k] * (means[c][k] - best(k));
            }
            places.add(new Place(candidates.get(c), Math.exp(-lost), wins[c] / RESAMPLES, shareOfWeights[c],
                    isUnbeaten(c)));
        }
        places.sort(java.util.Comparator.comparingDouble((Place place) -> -place.worth()));
        return List.copyOf(places);
    }

    private double best(int criterion) {
        return Arrays.stream(means).mapToDouble(row -> row[criterion]).min().orElseThrow();
    }

    private boolean isUnbeaten(int candidate) {
        for (int other = 0; other < means.length; other++) {
            boolean noWorse = true;
            boolean better = false;
            for (int k = 0; k < means[candidate].length; k++) {
                noWorse &= means[other][k] <= means[candidate][k];
                better |= means[other][k] < means[candidate][k];
            }
            if (other != candidate && noWorse && better) {
                return false;
            }
        }
        return true;
    }
}
