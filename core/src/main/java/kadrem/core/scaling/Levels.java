package kadrem.core.scaling;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

import kadrem.core.measure.LevelResult.Step;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.Soundness;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.Requirement;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Written;

/**
 * The course of a ladder or a ceiling search: which level is tried next after those that were, and what a level showed. It
 * depends on nothing but the results, so the same results give the same course. No search ends by one try: the level at which a ladder
 * stopped growing or broke, and the one above a ceiling, are tried once more, since a single hiccup looks the same.
 */
public final class Levels {
    private final LevelSearch search;
    private final List<Requirement> requirements;

    public Levels(LevelSearch search, List<Requirement> requirements) {
        this.search = search;
        this.requirements = List.copyOf(requirements);
    }

    /** The next level, or one that is to be tried once more; empty where the search has ended. */
    public OptionalDouble next(List<LevelResult> results) {
        if (results.size() >= search.most()) {
            return OptionalDouble.empty();
        }
        if (results.isEmpty()) {
            return OptionalDouble.of(search.from());
        }
        LevelResult last = results.getLast();
        boolean first = results.stream().filter(one -> one.level() == last.level()).count() == 1;
        if (last.step() == Step.UNSOUND && first) {
            // it says nothing about the candidate, and what disturbed it may have passed
            return OptionalDouble.of(last.level());
        }
        if (search instanceof LevelSearch.Ladder && first && isDoubtful(last)) {
            return OptionalDouble.of(last.level());
        }
        return switch (search) {
            case LevelSearch.Ladder ladder -> last.step() == Step.PASSED
                    ? OptionalDouble.of(ladder.after(last.level()))
                    : OptionalDouble.empty();
            case LevelSearch.Ceiling ceiling -> bisect(ceiling, results);
        };
    }

    /** Whether what the level showed may have been a hiccup; a death was none. */
    private static boolean isDoubtful(LevelResult level) {
        return level.step() == Step.FLAT || level.step() == Step.BROKEN;
    }

    /** Between the highest level that passed and the lowest above it that did not; upwards by doubling until one does not. */
    private static OptionalDouble bisect(LevelSearch.Ceiling ceiling, List<LevelResult> results) {
        double low = results.stream().filter(one -> one.step() == Step.PASSED).mapToDouble(LevelResult::level).max()
                .orElse(0);
        OptionalDouble high = results.stream().filter(one -> one.step() != Step.PASSED)
                .mapToDouble(LevelResult::level).filter(level -> level > low).min();
        if (high.isEmpty()) {
            return low >= ceiling.to() ? OptionalDouble.empty() : OptionalDouble.of(Math.min(ceiling.to(), low * 2));
        }
        boolean close = high.getAsDouble() - low <= ceiling.precision() * high.getAsDouble();
        if (!close) {
            return OptionalDouble.of((low + high.getAsDouble()) / 2);
        }
        List<LevelResult> above = results.stream().filter(one -> one.level() == high.getAsDouble()).toList();
        return above.size() == 1 && isDoubtful(above.getFirst()) ? high : OptionalDouble.empty();
    }

    /**
     * What a level showed. A requirement is not held against the candidate while the generator or its host was disturbed.
     *
     * @param fromSecond second of the run in which it began
     * @param before results of the levels before it
     */
    public LevelResult judge(double level, int fromSecond, RunFigures figures, List<Soundness.Finding> soundness,
            List<LevelResult> before) {
        Optional<String> missed = requirements.stream()
                .filter(one -> figures.value(one.metric()).stream().noneMatch(one::isMetBy))
                .map(one -> one.metric().label() + " " + figures.value(one.metric()).stream()
                        .mapToObj(value -> "is " + Written.value(one.metric().unit(), value)).findFirst()
                        .orElse("is not known") + ", the limit is " + Written.value(one.metric().unit(), one.limit()))
                .findFirst();
        Optional<Soundness.Finding> disturbed = soundness.stream().filter(Soundness.Finding::disturbs).findFirst();
        if (disturbed.isPresent()) {
            return new LevelResult(level, fromSecond, Optional.of(figures), soundness, Step.UNSOUND,
                    disturbed.get().sentence());
        }
        if (missed.isPresent()) {
            return new LevelResult(level, fromSecond, Optional.of(figures), soundness, Step.BROKEN, missed.get());
        }
        Optional<String> unkept = unkept(soundness);
        if (unkept.isPresent()) {
            return new LevelResult(level, fromSecond, Optional.of(figures), soundness, Step.BROKEN, unkept.get());
        }
        Optional<RunFigures> lower = before.stream().filter(one -> one.step() == Step.PASSED)
                .flatMap(one -> one.figures().stream()).reduce((_, b) -> b);
        if (search instanceof LevelSearch.Ladder ladder && lower.isPresent()) {
            double gain = figures.throughput() / lower.get().throughput() - 1;
            if (!(gain >= ladder.leastGain())) {
                return new LevelResult(level, fromSecond, Optional.of(figures), soundness, Step.FLAT,
                        "throughput grew by " + Written.significant(gain * 100) + " %, less than "
                                + Written.significant(ladder.leastGain() * 100) + " %");
            }
        }
        return new LevelResult(level, fromSecond, Optional.of(figures), soundness, Step.PASSED,
                requirements.isEmpty() ? "throughput grew" : "meets the requirements");
    }

    /** In what the candidate did not take the load of a level, though it meets what is asked of it: arrivals stayed behind. */
    private static Optional<String> unkept(List<Soundness.Finding> soundness) {
        return soundness.stream().filter(finding -> !finding.ok())
                .filter(finding -> finding.rule().equals(SoundnessRule.ACHIEVED_LOAD.label())
                        || finding.rule().equals(SoundnessRule.BACKLOG.label()))
                .map(Soundness.Finding::sentence).findFirst();
    }

    /**
     * The level whose figures stand for the whole run: of a ladder the lowest beyond which throughput does not grow as much as the ladder asks
     * for, of a ceiling search the highest that meets the requirements.
     */
    public Optional<LevelResult> best(List<LevelResult> results) {
        return switch (search) {
            case LevelSearch.Ladder ladder -> {
                List<LevelResult> taken = results.stream().filter(one -> one.figures().isPresent())
                        .filter(one -> one.step() == Step.PASSED || one.step() == Step.FLAT).toList();
                double highest = taken.stream().mapToDouble(Levels::throughput).max().orElse(0);
                yield taken.stream()
                        .filter(one -> one.step() == Step.PASSED && throughput(one) * (1 + ladder.leastGain()) > highest
                                || throughput(one) == highest)
                        .min(Comparator.comparingDouble(LevelResult::level));
            }
            case LevelSearch.Ceiling _ -> results.stream()
                    .filter(one -> one.figures().isPresent() && one.step() == Step.PASSED)
                    .max(Comparator.comparingDouble(LevelResult::level));
        };
    }

    private static double throughput(LevelResult level) {
        return level.figures().orElseThrow().throughput();
    }
}
