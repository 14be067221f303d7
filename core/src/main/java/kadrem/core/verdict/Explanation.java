package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.stream.Collectors;

import kadrem.core.plan.Look;
import kadrem.core.stats.StudentisedBootstrap;
import kadrem.core.stats.BetweenGroups;
import kadrem.core.stats.Friedman;
import kadrem.core.stats.Interval;
import kadrem.core.stats.PairedMean;
import kadrem.core.stats.SignedRank;
import kadrem.core.study.Candidate;
import kadrem.core.study.Scale;
import kadrem.core.study.Study;
import kadrem.core.study.Written;

/**
 * Why a figure is what it is: what it means, how it is computed, from which runs, how sure it is, what other methods say, and what would
 * change it; one file, since the parts of an explanation are alike for all figures.
 */
public record Explanation(String title, List<Part> parts) {
    /** A heading with sentences. */
    public record Part(String heading, String text) {
    }

    public Explanation {
        parts = List.copyOf(parts);
    }

    /** The comparison of a pair on a metric. */
    public static Explanation of(Comparison comparison, PairComparison pair, Optional<NoiseFloor> floor) {
        Study study = comparison.study();
        boolean ratio = pair.metric().scale() == Scale.RATIO;
        var parts = new ArrayList<Part>();
        parts.add(new Part("What it is", Wording.finding(study, pair) + ": " + Wording.outcome(pair) + "."
                + (pair.deciding() ? "" : " This metric does not decide; it is an observation beside the decision.")));
        parts.add(new Part("How it is computed", (ratio
                ? "d = ln(candidate / baseline) of the two runs of each round. "
                : "d = candidate − baseline of the two runs of each round. ")
                + "The estimate is the Hodges–Lehmann median of all means of two d"
                + (ratio ? ", taken back from logarithms. " : ". ")
                + (pair.test() instanceof BetweenGroups
                        ? "There are three sittings or more: estimate, p and interval are those of the mean of the sittings' own"
                                + " estimates, by t over sittings, so that what differs from day to day is in them."
                        : pair.isAnyTime()
                                ? "The plan is adaptive: p is 1 / (the largest value so far of a martingale that bets on the sign of d"
                                        + " by the rank of |d|), and the interval holds all shifts that it does not rule out; both hold at any stop."
                                : pair.test() instanceof PairedMean
                                        ? "Shares of calls go by their mean over rounds: estimate, p and interval are those of the mean difference, by t."
                                        : "The interval runs between ordered means of two d, and p is the exact signed-rank probability.")));
        parts.add(new Part("Runs", pair.points().stream().map(point -> "round " + point.round() + ": "
                + Written.value(pair.metric().unit(), point.candidate()) + " against "
                + Written.value(pair.metric().unit(), point.baseline())).collect(Collectors.joining("\n"))
                + leftOut(comparison, pair)));
        List<Comparison.InSitting> sittings = comparison.bySitting(pair);
        if (sittings.size() > 1) {
            parts.add(new Part("Sittings", sittings.stream().map(one -> one.sitting() + ": "
                    + Wording.change(pair.metric(), one.estimate()) + " in " + one.rounds() + " rounds")
                    .collect(Collectors.joining("\n"))));
        }
        parts.add(new Part("How sure", sure(comparison, pair)));
        parts.add(new Part("Second opinions", opinions(study, pair)));
        comparison.together(pair.metric()).filter(_ -> pair.call().isEmpty())
                .ifPresent(test -> parts.add(new Part("All candidates together", friedman(test))));
        floor.flatMap(one -> one.floor(pair.metric()).map(known -> new Part("Noise floor", String.format(Locale.ROOT,
                "%s differs from itself by up to %s over %d rounds.", name(study, one.candidate()),
                pair.metric().scale().words(known.size()), one.rounds())))).ifPresent(parts::add);
        parts.add(new Part("What would change it", changes(comparison, pair, floor)));
        parts.add(new Part("Sources",
                "Hollander, Wolfe: Nonparametric Statistical Methods, 1973, chapter 3; Pratt 1959 for ties"
                        + " and zeros; Holm 1979; Schuirmann 1987 for \"no difference that matters\"; Hall 1988 for the bootstrap"
                        + (pair.isAnyTime()
                                ? "; de la Peña 1999 and Ramdas et al. 2020 for the test valid at any stop"
                                : "")
                        + "."));
        return new Explanation(pair.metric().label() + ", " + name(study, pair.candidate()) + " against "
                + name(study, pair.baseline()) + (pair.call().isEmpty() ? "" : ", " + pair.call()), parts);
    }

    private static String leftOut(Comparison comparison, PairComparison pair) {
        List<String> out = comparison.leftOut().stream().filter(
                one -> one.candidate().equals(pair.baseline()) || one.candidate().equals(pair.candidate()))
                .map(Comparison.LeftOut::sentence).toList();
        return out.isEmpty() ? "" : "\nLeft out:\n" + String.join("\n", out);
    }

    private static String sure(Comparison comparison, PairComparison pair) {
        Look look = comparison.progress().look();
        double whole = comparison.study().question().significance();
        double significance = pair.deciding() ? look.significance() : whole;
        double asked = 1 - significance / pair.family();
        String interval = pair.interval()
                .map(i -> String.format(Locale.ROOT, "Asked for %s confidence; these %d rounds give an interval of %s.",
                        Written.share(asked), pair.rounds(), Written.share(i.achievedConfidence())))
                .orElse(pair.rounds() + " rounds have no interval of " + Written.share(asked) + ".");
        return interval
                + String.format(Locale.ROOT, " p = %s by itself; with %d %s that share the significance %s, held"
                        + " against %s.", probability(pair.p()), pair.family(), pair.family() == 1 ? "item" : "items",
                        probability(pair.adjustedP()), probability(whole))
                + (pair.deciding() && significance < whole
                        ? " This look, at " + look.words() + ", spends " + probability(significance)
                                + " of it, which is in the p; the rest is for the other looks of a study that is gone on with."
                        : "")
                + (pair.deciding()
                        ? " All that is said of the pair is read from this interval; over all items of the study the chance that anything is"
                                + " false is at most " + probability(whole)
                                + ", however often the study is gone on with."
                        : " It is a hint: no error rate of the study covers it.")
                + (pair.call().isEmpty()
                        ? ""
                        : " Looked at call by call, something stands out by chance sooner: what does should be asked about anew.");
    }

    private static String opinions(Study study, PairComparison pair) {
        SecondOpinions opinions = SecondOpinions.of(pair, StudentisedBootstrap.of(pair.rounds(), study.plan().seed()),
                study.question().significance());
        var lines = new ArrayList<String>();
        opinions.t().filter(one -> Double.isFinite(one.t())).ifPresent(one -> lines.add(String.format(Locale.ROOT,
                "Paired t: %s, t = %.2f, p = %s.", interval(pair, opinions.tInterval()), one.t(),
                probability(one.p()))));
        opinions.bootstrap().ifPresent(one -> lines.add(String.format(Locale.ROOT,
                "Bootstrap of the mean over rounds (studentised, %,d draws, seed %d): %s.", StudentisedBootstrap.DRAWS,
                study.plan().seed(),
                interval(pair, opinions.bootstrap()))));
        lines.add(opinions.disagreements().isEmpty()
                ? lines.isEmpty() ? "Too few rounds for any." : "They do not contradict."
                : "They disagree: " + String.join("; ", opinions.disagreements())
                        + ". Read the result with care, and look at the rounds one by one.");
        return String.join("\n", lines);
    }

    private static String interval(PairComparison pair, Optional<Interval> interval) {
        return interval.map(i -> Wording.interval(pair.metric(), i)).orElse("no interval");
    }

    private static String friedman(Friedman test) {
        return String.format(Locale.ROOT,
                "Friedman's test of \"all candidates are alike\": χ² = %.2f on %d degrees of freedom, p = %s.",
                test.chiSquared(), test.degrees(), probability(test.p()));
    }

    private static String changes(Comparison comparison, PairComparison pair, Optional<NoiseFloor> floor) {
        Study study = comparison.study();
        var lines = new ArrayList<String>();
        Planning plan = Planning.of(study, pair.metric(), comparison, floor);
        if (pair.outcome() == Outcome.NOT_SETTLED) {
            OptionalInt rounds = plan.roundsFor(pair);
            lines.add(Planning.hangsOnRunsWithoutFigure(pair)
                    ? Wording.capital(Planning.WITHOUT_FIGURE) + "."
                    : rounds.isPresent()
                            ? "About " + rounds.getAsInt()
                                    + " rounds would settle it four times in five, as a difference of the margin or as none that matters"
                                    + " (by the scatter of " + plan.noise().words(pair.metric()) + ")."
                                    + (plan.adaptive()
                                            ? ""
                                            : " " + VerdictWording.goingOn(comparison.progress()))
                            : "More than " + Planning.MAX_ROUNDS
                                    + " rounds would be needed; only a wider margin or less noise helps.");
        }
        // which single round carries most of the result
        if (pair.rounds() > 1) {
            double whole = SignedRank.of(pair.differences()).estimate();
            double furthest = 0;
            int at = 0;
            double[] d = pair.differences();
            for (int i = 0; i < d.length; i++) {
                int skip = i;
                double[] rest = java.util.stream.IntStream.range(0, d.length).filter(j -> j != skip)
                        .mapToDouble(j -> d[j])
                        .toArray();
                double change = Math.abs(SignedRank.of(rest).estimate() - whole);
                if (change >= furthest) {
                    furthest = change;
                    at = i;
                }
            }
            int skip = at;
            double[] rest = java.util.stream.IntStream.range(0, d.length).filter(j -> j != skip).mapToDouble(j -> d[j])
                    .toArray();
            lines.add("Without round " + pair.points().get(at).round()
                    + ", which carries most of it, the estimate would be "
                    + Wording.change(pair.metric(), pair.metric().scale().shown(SignedRank.of(rest).estimate())) + ".");
        }
        pair.interval().ifPresent(i -> {
            double nearest = i.contains(pair.metric().scale().neutral())
                    ? Math.max(Math.abs(onScale(pair, i.low())), Math.abs(onScale(pair, i.high())))
                    : Math.min(Math.abs(onScale(pair, i.low())), Math.abs(onScale(pair, i.high())));
            String size = pair.metric().scale().wordsOf(nearest);
            lines.add(i.contains(pair.metric().scale().neutral())
                    ? "With a margin of more than " + size + ", set before the first run, no difference would matter."
                    : "The end of the interval that is nearest to none is " + size + " away from it.");
        });
        return String.join("\n", lines);
    }

    private static double onScale(PairComparison pair, double shown) {
        return pair.metric().scale().of(shown);
    }

    /** What a plan can show on a metric. */
    public static Explanation of(Study study, PlanCurve curve, int rounds) {
        Planning plan = curve.plan();
        OptionalDouble settles = curve.settles(rounds);
        OptionalInt needed = curve.roundsForMargin();
        String margin = plan.margin().words();
        return new Explanation("What the plan can show, " + plan.metric().label(), List.of(
                new Part("What it is", settles.isPresent()
                        ? rounds + " rounds settle a difference of " + size(plan, settles.getAsDouble())
                                + " four times in five, where there is one."
                        : rounds + " rounds settle nothing: it takes " + plan.fewest() + "."),
                new Part("How it is computed",
                        "By simulation of studies with normal scatter in which candidates that follow on each other differ by so"
                                + " much: every pair and metric by "
                                + (plan.adaptive()
                                        ? "the test that may be looked at after each round"
                                        : "the exact signed-rank test")
                                + ", all of them together by Holm's steps. σ is the scatter of the paired differences, "
                                + plan.noise().words(plan.metric())
                                + "; while it rests on few rounds its upper limit of 80 % is taken, "
                                + size(plan, plan.noise().upper()) + ". α = " + probability(plan.significance()) + " / "
                                + plan.family() + " at the first step, over " + plan.family()
                                + " pairs, metrics and requirements. Below " + plan.fewest()
                                + " rounds no interval of that confidence exists."),
                new Part("What would change it", (needed.isPresent()
                        ? "The margin of " + margin + " takes " + needed.getAsInt() + " rounds. "
                        : "The margin of " + margin + " takes more than " + Planning.MAX_ROUNDS + " rounds. ")
                        + "Longer runs and a quieter host lower σ; fewer candidates or deciding metrics lower the "
                        + plan.family() + "."),
                new Part("Sources",
                        "Senn, Bretz 2007 (average power); Holm 1979; Browne 1995; Phillips 1990. Power 0.8: common practice, no"
                                + " source.")));
    }

    /** Whether a candidate meets a requirement. */
    public static Explanation of(Study study, RequirementResult result) {
        return new Explanation(RequirementResult.words(result.requirement()) + ", " + name(study, result.candidate()),
                List.of(new Part("What it is", Wording.capital(result.sentenceWithNext()) + "."),
                        new Part("How it is computed",
                                (result.ofShare()
                                        ? "The calls that were due and lack what is asked, as a share of all, pooled over runs. Its bounds"
                                                + " take the run for the unit (ratio estimate, t over runs) and are no narrower than the exact"
                                                + " ones of the counts; a run that the candidate ended itself lacks all."
                                        : "The mean of the runs' values, with its t interval over runs.")
                                        + " Met: the bound on the bad side is inside the limit. Missed: the bound on the good side"
                                        + " is outside. Else not shown. It takes " + RequirementResult.MIN_RUNS
                                        + " runs." + (study.plan().isAdaptive()
                                                ? " Rounds are added until enough is shown, so that it is judged at 5, 10, 20 … runs"
                                                        + " only, each time by a part of its level."
                                                : "")
                                        + " Of the next runs: the lower prediction bound from how many kept it, each by itself."),
                        new Part("Runs", result.values().stream()
                                .map(value -> Written.value(result.requirement().metric().unit(), value))
                                .collect(Collectors.joining(", "))),
                        new Part("Sources",
                                "Cochran 1977, section 6.3; Clopper, Pearson 1934; Student 1908; Thatcher 1964.")));
    }

    /** The place of a candidate under weights. */
    public static Explanation of(Study study, Preference preference, double[] weights, Preference.Place place) {
        double sum = Arrays.stream(weights).sum();
        var shares = new ArrayList<String>();
        for (int i = 0; i < weights.length; i++) {
            shares.add(preference.criteria().get(i).name() + " "
                    + Written.share(sum == 0 ? 1.0 / weights.length : weights[i] / sum));
        }
        return new Explanation("Preference, " + name(study, place.candidate()), List.of(
                new Part("What it is", String.format(Locale.ROOT,
                        "A worth of %.3f of 1. It comes first in %s of the resampled rounds at these weights, and at %s of all"
                                + " possible weights.%s",
                        place.worth(), Written.share(place.shareOfResamples()), Written.share(place.shareOfWeights()),
                        place.unbeaten()
                                ? " No other is at least as good in everything that counts and better in something."
                                : " Another is at least as good in everything that counts and better in something.")),
                new Part("How it is computed",
                        "The weighted geometric mean, over all that counts, of the best value divided by its own"
                                + " (turned round where higher is better; error shares by the share of good calls; judged factors by"
                                + " their step). Values are geometric means over " + preference.rounds()
                                + " rounds that all have. 2,000 resamples of rounds and 5,000 weights, seed "
                                + study.plan().seed() + "."),
                new Part("Inputs", String.join("\n", shares)),
                new Part("Sources",
                        "Lahdelma, Salminen: SMAA-2, Operations Research 49, 2001; Efron 1979 for the bootstrap.")));
    }

    private static String size(Planning plan, double difference) {
        return plan.metric().scale().wordsOf(difference);
    }

    private static String probability(double p) {
        return p < 0.0001 ? "less than 0.0001" : String.format(Locale.ROOT, "%.4f", p).replaceAll("0+$", "");
    }

    private static String name(Study study, String id) {
        return study.candidate(id).map(Candidate::name).orElse(id);
    }
}
