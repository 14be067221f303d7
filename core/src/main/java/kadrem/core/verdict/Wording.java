package kadrem.core.verdict;

import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

import kadrem.core.stats.Interval;
import kadrem.core.study.Candidate;
import kadrem.core.study.Metric;
import kadrem.core.study.Scale;
import kadrem.core.study.Study;
import kadrem.core.study.Written;

/** Figures and outcomes in words. No sentence says more than was shown. */
public final class Wording {
    private Wording() {
    }

    /** "38 % lower", "2.6 times as high", "0.4 points higher", "the same". */
    public static String change(Metric metric, double estimate) {
        if (metric.scale() == Scale.RATIO && (Double.isInfinite(estimate) || estimate == 0)) {
            return estimate == 0 ? "lower without bound" : "higher without bound";
        }
        if (metric.scale() == Scale.DIFFERENCE) {
            return estimate == 0
                    ? "the same"
                    : Written.significant(Math.abs(estimate) * 100) + " points " + (estimate > 0 ? "higher" : "lower");
        }
        if (estimate >= 2) {
            return Written.significant(estimate) + " times as high";
        }
        double percent = (estimate - 1) * 100;
        if (Math.abs(percent) < 0.05) {
            return "the same";
        }
        return percentNumber(percent) + " % " + (percent > 0 ? "higher" : "lower");
    }

    private static String percentNumber(double percent) {
        double size = Math.abs(percent);
        return String.format(Locale.ROOT, size < 10 ? "%.1f" : "%.0f", size);
    }

    /** The interval in the words of {@link #change}: "31 % to 44 % lower", "2 % lower to 5 % higher", "2.1 to 2.8 times as high". */
    public static String interval(Metric metric, Interval interval) {
        String low = change(metric, interval.low());
        String high = change(metric, interval.high());
        for (String direction : List.of(" lower", " higher", " times as high")) {
            if (low.endsWith(direction) && high.endsWith(direction)) {
                String a = low.substring(0, low.length() - direction.length());
                String b = high.substring(0, high.length() - direction.length());
                return direction.equals(" lower") ? b + " to " + a + direction : a + " to " + b + direction;
            }
        }
        return low.equals(high) ? low : low + " to " + high;
    }

    /** The change seen from the other candidate of the pair. */
    static String mirroredChange(PairComparison pair) {
        return change(pair.metric(), mirrored(pair.metric(), pair.estimate()));
    }

    /** The interval seen from the other candidate of the pair. */
    static Interval mirrored(Metric metric, Interval interval) {
        return new Interval(mirrored(metric, interval.high()), mirrored(metric, interval.low()),
                interval.achievedConfidence());
    }

    private static double mirrored(Metric metric, double value) {
        return metric.scale() == Scale.RATIO ? 1 / value : -value;
    }

    /** "p99 response time of Event loop is 38 % lower than of Thread pool (31 % to 44 % lower; 95.3 % interval, 7 rounds)". */
    public static String finding(Study study, PairComparison pair) {
        String shown = pair.interval()
                .map(i -> String.format(Locale.ROOT, "%s; %.1f %% interval, %d rounds", interval(pair.metric(), i),
                        i.achievedConfidence() * 100, pair.rounds()))
                .orElse(pair.rounds() + (pair.rounds() == 1 ? " round" : " rounds") + ", too few for an interval");
        String than = change(pair.metric(), pair.estimate());
        String joint = than.equals("the same") || than.endsWith("high") ? " as " : " than ";
        return capital(pair.metric().label()) + " of " + name(study, pair.candidate()) + " is " + than + joint + "of "
                + name(study, pair.baseline()) + " (" + shown + ")";
    }

    /** The outcome with the margin it was held against. */
    public static String outcome(PairComparison pair) {
        String settled = pair.deciding() ? "settled" : "a hint";
        String margin = pair.margin().words();
        return switch (pair.outcome()) {
            case BETTER_BY_MORE -> settled + ": better by more than the margin of " + margin;
            case BETTER -> settled + ": better, though perhaps by less than the margin of " + margin;
            case NO_DIFFERENCE_THAT_MATTERS -> settled + ": no difference that matters, all within " + margin;
            case NOT_SETTLED -> pair.deciding() ? "not settled" : "no hint";
            case WORSE -> settled + ": worse, though perhaps by less than the margin of " + margin;
            case WORSE_BY_MORE -> settled + ": worse by more than the margin of " + margin;
        };
    }

    /** One sentence on where the decision stands, from the first deciding metric. */
    public static String standing(Comparison comparison) {
        Study study = comparison.study();
        if (study.question().deciders().isEmpty()) {
            return "No metric decides yet.";
        }
        Metric metric = study.question().deciders().getFirst().metric();
        List<PairComparison> pairs = comparison.on(metric);
        if (pairs.isEmpty()) {
            return nothing(comparison);
        }
        Comparison.Progress progress = comparison.progress();
        String early = progress.isEarlyLook()
                ? "In progress, " + progress.measured() + " of " + progress.planned() + " rounds: "
                : "";
        String waiting = progress.waitingSentence().map(sentence -> " " + sentence).orElse("");
        Optional<String> leader = leader(study, pairs);
        if (leader.isPresent()) {
            return early + name(study, leader.get()) + " leads on " + metric.id() + ": "
                    + detail(pairs, leader.get(), study.question().baseline(), progress.isEarlyLook()) + waiting;
        }
        long settled = pairs.stream().filter(pair -> pair.outcome().isSettled()).count();
        return early + "No candidate leads on " + metric.id() + ": " + (progress.isEarlyLook()
                ? "nothing is settled before the plan is through."
                : settled + " of " + pairs.size() + " pairs settled." + waiting);
    }

    /** Why nothing can be compared yet. */
    static String nothing(Comparison comparison) {
        Comparison.RoundsSetAside aside = comparison.setAside();
        return aside.rounds().isEmpty()
                ? "Nothing measured yet that can be compared."
                : "Nothing counts yet: " + (aside.rounds().size() == 1
                        ? "the round was set aside, "
                        : "all " + aside.rounds().size() + " rounds were set aside, the first being ")
                        + aside.sentences().getFirst() + ".";
    }

    /** The candidate that is settled better than each other one, if there is one. */
    public static Optional<String> leader(Study study, List<PairComparison> pairs) {
        return study.candidates().stream().map(Candidate::id).filter(id -> {
            long wins = pairs.stream().filter(pair -> winner(pair).filter(id::equals).isPresent()).count();
            return wins == study.candidates().size() - 1 && wins > 0;
        }).findFirst();
    }

    /** Pairs of a metric with the answer first: those of a candidate that leads, then what is settled, then what is not. */
    public static List<PairComparison> answerFirst(Study study, List<PairComparison> pairs) {
        Optional<String> leader = leader(study, pairs);
        return pairs.stream()
                .sorted(Comparator.comparing((PairComparison pair) -> leader
                        .filter(id -> id.equals(pair.candidate()) || id.equals(pair.baseline())).isEmpty())
                        .thenComparing(pair -> !pair.outcome().isSettled()))
                .toList();
    }

    /** The better candidate of a pair with a settled difference. */
    public static Optional<String> winner(PairComparison pair) {
        return switch (pair.outcome()) {
            case BETTER, BETTER_BY_MORE -> Optional.of(pair.candidate());
            case WORSE, WORSE_BY_MORE -> Optional.of(pair.baseline());
            case NOT_SETTLED, NO_DIFFERENCE_THAT_MATTERS -> Optional.empty();
        };
    }

    private static String detail(List<PairComparison> pairs, String leader, String baseline, boolean early) {
        PairComparison shown = pairs.stream().filter(pair -> pair.candidate().equals(leader))
                .max(Comparator.comparing(pair -> pair.baseline().equals(baseline))).orElse(null);
        if (shown == null || shown.interval().isEmpty()) {
            return "better than every other candidate, " + (early ? "so far." : "settled.");
        }
        return change(shown.metric(), shown.estimate()) + " against the baseline ("
                + interval(shown.metric(), shown.interval().get()) + "), "
                + (early ? "ahead of all so far." : "settled against all.");
    }

    private static String name(Study study, String id) {
        return study.candidate(id).map(Candidate::name).orElse(id);
    }

    /** A sentence that begins with a capital letter. */
    public static String capital(String text) {
        return text.substring(0, 1).toUpperCase(Locale.ROOT) + text.substring(1);
    }
}
