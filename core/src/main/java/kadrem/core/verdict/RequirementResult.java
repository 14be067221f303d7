package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.OptionalLong;

import kadrem.core.measure.PartFigures;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunRecord;
import kadrem.core.plan.Look;
import kadrem.core.stats.ClusteredShare;
import kadrem.core.stats.Interval;
import kadrem.core.stats.NextRuns;
import kadrem.core.stats.PairedT;
import kadrem.core.study.Metric;
import kadrem.core.study.Requirement;
import kadrem.core.study.Written;

/**
 * Whether a candidate meets a requirement.
 * <p>
 * A requirement on a percentile is one on a share: p99 at most 50 ms means that at most 1 % of the calls that were due lack a good answer
 * within 50 ms, pooled over runs; one on the error share likewise. The bounds take the run for the unit ({@link ClusteredShare}), and
 * a run that the candidate ended itself is one in which all calls lack it. Other metrics: the mean over runs with its t interval. Met:
 * the bound on the bad side is inside the limit. Missed: the bound on the good side is outside. Else not shown. Where rounds are added until
 * enough is shown, the bounds are those of the last look ({@link Look#whileAdded}).
 *
 * @param values of the candidate's runs
 * @param estimate the pooled share of a requirement on one, the mean of the values of another
 * @param ofShare whether estimate and bounds are shares of calls, as they are where the runs tell how many calls kept the limit
 * @param bounds with the confidence that the family leaves it; empty where the runs are too few
 */
public record RequirementResult(Requirement requirement, String candidate, List<Double> values, OptionalDouble estimate,
        Optional<Interval> bounds, boolean ofShare, Answer answer) {
    /** Fewer runs say too little of how runs differ. */
    public static final int MIN_RUNS = 5;

    /** Runs for which it is told how many of them would keep a requirement. */
    public static final int NEXT = 10;
    private static final double CONFIDENCE = 0.95;

    /** What can be said. */
    public enum Answer {
        MET("met"), MISSED("missed"), NOT_SHOWN("not shown");

        private final String words;

        Answer(String words) {
            this.words = words;
        }

        public String words() {
            return words;
        }
    }

    /**
     * A requirement and a candidate before they have their level.
     *
     * @param share the share of calls that lack what is asked; empty where the requirement is none on a share
     * @param spent part of its level that this look spends
     */
    record Draft(Requirement requirement, String candidate, List<Double> values, Optional<ClusteredShare> share,
            double spent) implements Family.Item {
        /**
         * Of the runs of a candidate, in the order of rounds.
         *
         * @param whileAdded whether rounds are added until enough is shown, so that this is not the only look
         */
        static Draft of(Requirement requirement, String candidate, List<RunRecord> runs, boolean whileAdded) {
            Look look = whileAdded ? Look.whileAdded(MIN_RUNS, runs.size(), 1) : Look.only(runs.size(), 1);
            List<RunRecord> judged = runs.stream().limit(look.count()).toList();
            List<Double> values = judged.stream().flatMap(run -> run.value(requirement.metric()).stream().boxed())
                    .toList();
            return new Draft(requirement, candidate, values, share(requirement, judged), look.significance());
        }

        /** Calls that were due and lack what is asked, by run; empty where a run does not tell. */
        private static Optional<ClusteredShare> share(Requirement requirement, List<RunRecord> runs) {
            Metric metric = requirement.metric();
            if (allowed(requirement).isEmpty() || runs.isEmpty()) {
                return Optional.empty();
            }
            List<Long> due = runs.stream().flatMap(run -> run.figures().map(one -> one.due(metric)).stream())
                    .filter(count -> count > 0).sorted().toList();
            // a run that the candidate ended itself counts as much as the others
            long usual = due.isEmpty() ? 1 : due.get(due.size() / 2);
            var lacking = new ArrayList<Long>();
            var of = new ArrayList<Long>();
            for (RunRecord run : runs) {
                boolean ended = run.standing() instanceof kadrem.core.measure.Standing.OfCandidate;
                Optional<RunFigures> figures = run.figures().filter(one -> !ended);
                OptionalLong good = figures.isEmpty()
                        ? OptionalLong.of(0)
                        : good(figures.get(), requirement);
                long count = figures.map(one -> one.due(metric)).orElse(usual);
                if (good.isEmpty() || count == 0) {
                    return Optional.empty();
                }
                of.add(count);
                lacking.add(Math.max(0, count - good.getAsLong()));
            }
            return Optional.of(ClusteredShare.of(lacking.stream().mapToLong(Long::longValue).toArray(),
                    of.stream().mapToLong(Long::longValue).toArray()));
        }

        private static OptionalLong good(RunFigures figures, Requirement requirement) {
            Metric metric = requirement.metric();
            Optional<PartFigures> part = figures.part(metric.of());
            return metric.kind() == Metric.Kind.ERROR_SHARE
                    ? part.map(one -> OptionalLong.of(one.good())).orElse(OptionalLong.empty())
                    : part.map(one -> one.goodWithin(requirement.limit())).orElse(OptionalLong.empty());
        }

        private Optional<Interval> bounds(double ofItem) {
            double level = ofItem * spent;
            if (values.size() < MIN_RUNS) {
                return Optional.empty();
            }
            if (share.isPresent()) {
                return share.map(one -> one.interval(1 - level));
            }
            double[] all = values.stream().mapToDouble(Double::doubleValue).toArray();
            if (values.stream().anyMatch(value -> value.isInfinite())) {
                return Optional.of(new Interval(Double.POSITIVE_INFINITY, Double.POSITIVE_INFINITY, 1 - level));
            }
            return PairedT.of(all).map(t -> t.interval(1 - level));
        }

        private boolean isInside(double bound) {
            return share.isPresent()
                    ? bound <= allowed(requirement).orElseThrow()
                    : requirement.isMetBy(bound);
        }

        private Answer answer(double level) {
            return bounds(level).map(bounds -> {
                boolean low = isInside(bounds.low());
                boolean high = isInside(bounds.high());
                return low && high ? Answer.MET : low || high ? Answer.NOT_SHOWN : Answer.MISSED;
            }).orElse(Answer.NOT_SHOWN);
        }

        @Override
        public boolean isBeyond(double level) {
            return answer(level) != Answer.NOT_SHOWN;
        }

        RequirementResult finish(double level) {
            OptionalDouble estimate = share.isPresent()
                    ? OptionalDouble.of(share.get().share())
                    : values.stream().mapToDouble(Double::doubleValue).average();
            return new RequirementResult(requirement, candidate, values, estimate, bounds(level), share.isPresent(),
                    answer(level));
        }
    }

    /** The share of calls that may lack what is asked; empty for requirements on other figures. */
    static OptionalDouble allowed(Requirement requirement) {
        return requirement.metric().kind() == Metric.Kind.ERROR_SHARE
                ? OptionalDouble.of(requirement.limit())
                : requirement.metric().above();
    }

    /** "p99 response time at most 50 ms". */
    public static String words(Requirement requirement) {
        return requirement.metric().label() + (requirement.metric().higherIsBetter() ? " at least " : " at most ")
                + Written.value(requirement.metric().unit(), requirement.limit());
    }

    /** Runs that kept the requirement, each by itself. */
    public int kept() {
        return (int) values.stream().filter(requirement::isMetBy).count();
    }

    /** Of the next {@value #NEXT} runs, how many would keep it at least; empty where the runs say too little. */
    public OptionalInt nextKept() {
        return values.size() < MIN_RUNS
                ? OptionalInt.empty()
                : OptionalInt.of(NextRuns.atLeast(kept(), values.size(), NEXT, CONFIDENCE));
    }

    /** "7 of 7 runs kept it; of the next 10 at least 6 would (95 %)"; empty where the runs say too little. */
    public String nextWords() {
        return nextKept().isEmpty()
                ? ""
                : String.format(Locale.ROOT, "%d of %d runs kept it; of the next %d at least %d would (%.0f %%)",
                        kept(),
                        values.size(), NEXT, nextKept().getAsInt(), CONFIDENCE * 100);
    }

    /** The sentence, with what is to be expected of the next runs. */
    public String sentenceWithNext() {
        return sentence() + (nextWords().isEmpty() ? "" : ". " + nextWords());
    }

    /** "not shown: 0.9 % of the calls lack it, 0.4 % to 1.6 % in 7 runs; 1 % may". */
    public String sentence() {
        if (estimate.isEmpty()) {
            return answer.words() + ": no run that counts";
        }
        String runs = String.format(Locale.ROOT, " in %d %s", values.size(), values.size() == 1 ? "run" : "runs")
                + (values.size() < MIN_RUNS ? "; it takes " + MIN_RUNS : "");
        Metric.Unit unit = ofShare ? Metric.Unit.SHARE : requirement.metric().unit();
        String figures = Written.value(unit, estimate.getAsDouble())
                + (ofShare
                        ? requirement.metric().kind() == Metric.Kind.ERROR_SHARE
                                ? " of the calls failed"
                                : " of the calls had no good answer within "
                                        + Written.value(requirement.metric().unit(), requirement.limit())
                        : "")
                + bounds.map(i -> i.low() == i.high() && i.low() == estimate.getAsDouble()
                        ? ""
                        : ", " + Written.value(unit, i.low()) + " to " + Written.value(unit, i.high())).orElse("");
        return answer.words() + ": " + figures + runs
                + (ofShare && requirement.metric().kind() != Metric.Kind.ERROR_SHARE
                        ? ", and " + Written.value(unit, allowed(requirement).orElseThrow()) + " may"
                        : "");
    }
}
