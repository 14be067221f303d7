package kadrem.core.measure;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.stream.Collectors;

import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Judgement;
import kadrem.core.study.Metric;
import kadrem.core.study.Seal;

/**
 * One run as it is kept.
 *
 * @param lastOutput last lines that the candidate wrote, kept for a failed run
 * @param fingerprint what was measured, by attribute
 * @param processes ids and start instants (ms since 1970) of Kadrem and of the candidate's root process
 * @param generator what making the load cost
 * @param levels results of the levels of a ladder or ceiling search; empty for one level
 * @param watch how the watch of each source of host figures went
 */
public record RunRecord(RunIdentity identity, RunState state, List<String> lastOutput, Map<String, String> fingerprint,
        Processes processes, Optional<StreamDigest> stream, Optional<RunFigures> figures,
        List<Soundness.Finding> soundness, Optional<GeneratorFigures> generator, List<LevelResult> levels,
        List<WatchedSource> watch) {

    /** A run that has just begun. */
    public static RunRecord begun(RunIdentity identity, Processes processes) {
        return new RunRecord(identity, new RunState.UnderWay(), List.of(), Map.of(), processes, Optional.empty(),
                Optional.empty(), List.of(), Optional.empty(), List.of(), List.of());
    }

    public String id() {
        return identity.id();
    }

    public int round() {
        return identity.round();
    }

    /** Id of the candidate. */
    public String candidate() {
        return identity.candidate();
    }

    /** Digest of workload and load. */
    public String studyDigest() {
        return identity.studyDigest();
    }

    public Instant started() {
        return identity.started();
    }

    /** Where it was measured, by attribute. */
    public Map<String, String> machine() {
        return identity.machine();
    }

    /** The name of the run's folder. */
    public String folderName() {
        return identity.folderName();
    }

    /** The sitting it belongs to. */
    public String sitting() {
        return identity.sitting();
    }

    public RunOutcome outcome() {
        return state.outcome();
    }

    /** Why the run failed, was stopped or cut off; empty for a complete one. */
    public String reason() {
        return state.reason();
    }

    /** Process ids with start instants, by which a leftover is recognised without taking another for it; 0 is none. */
    public record Processes(long kadremPid, long kadremStarted, long candidatePid, long candidateStarted) {
        public static final Processes NONE = new Processes(0, 0, 0, 0);
    }

    /** What it is to a comparison. */
    public Standing standing() {
        return Standing.of(this);
    }

    /** Whether nothing but the candidate was measured, as far as was found. */
    public boolean isSound() {
        return soundness.stream().noneMatch(Soundness.Finding::disturbs);
    }

    /** Whether it is a result: measured to its end and undisturbed, or ended by the candidate. */
    public boolean isResult() {
        return switch (standing()) {
            case Standing.Counted _,Standing.OfCandidate _ -> true;
            case Standing.Disturbed _,Standing.NotMade _ -> false;
        };
    }

    /**
     * The value by which it is compared: the worst there is where the candidate ended the run. Empty where the run cannot give it, or
     * is no result.
     */
    public OptionalDouble value(Metric metric) {
        return switch (standing()) {
            case Standing.OfCandidate _ -> OptionalDouble.of(metric.worst());
            case Standing.NotMade _ -> OptionalDouble.empty();
            case Standing.Counted _,Standing.Disturbed _ ->
                figures.map(one -> one.value(metric)).orElse(OptionalDouble.empty());
        };
    }

    /** Whether it was measured to its end. */
    public boolean hasWholeFigures() {
        return outcome() == RunOutcome.COMPLETE && figures.isPresent();
    }

    /** The levels that it went through undisturbed and alive. */
    public Set<Double> levelsTaken() {
        return levels.stream().filter(level -> level.figures().isPresent() && level.isSound()).map(LevelResult::level)
                .collect(Collectors.toUnmodifiableSet());
    }

    /** The value at one level of a search; empty where the run has no figures of it. */
    public OptionalDouble valueAt(double level, Metric metric) {
        return standing() instanceof Standing.OfCandidate
                ? OptionalDouble.of(metric.worst())
                : levels.stream().filter(one -> one.level() == level && one.figures().isPresent() && one.isSound())
                        .reduce((_, later) -> later).flatMap(LevelResult::figures).map(one -> one.value(metric))
                        .orElse(OptionalDouble.empty());
    }

    /** This run at its end. */
    public RunRecord withOutcome(RunOutcome outcome, String reason, Instant end) {
        return new RunRecord(identity, new RunState.Ended(outcome, reason, end), lastOutput, fingerprint, processes,
                stream, figures, soundness, generator, levels, watch);
    }

    public RunRecord withLastOutput(List<String> lines) {
        return new RunRecord(identity, state, List.copyOf(lines), fingerprint, processes, stream, figures, soundness,
                generator, levels, watch);
    }

    public RunRecord withFingerprint(Map<String, String> found) {
        return new RunRecord(identity, state, lastOutput, found, processes, stream, figures, soundness, generator,
                levels, watch);
    }

    public RunRecord withProcesses(Processes found) {
        return new RunRecord(identity, state, lastOutput, fingerprint, found, stream, figures, soundness, generator,
                levels, watch);
    }

    public RunRecord withResult(StreamDigest digest, RunFigures result, List<Soundness.Finding> findings) {
        return new RunRecord(identity, state, lastOutput, fingerprint, processes, Optional.of(digest),
                Optional.of(result), List.copyOf(findings), generator, levels, watch);
    }

    /** A run whose figures were measured by other means. */
    public RunRecord withElsewhere(RunFigures values) {
        return new RunRecord(identity, state, lastOutput, fingerprint, processes, stream, Optional.of(values),
                soundness, generator, levels, watch);
    }

    public RunRecord withGenerator(GeneratorFigures own) {
        return new RunRecord(identity, state, lastOutput, fingerprint, processes, stream, figures, soundness,
                Optional.of(own), levels, watch);
    }

    public RunRecord withLevels(List<LevelResult> results) {
        return new RunRecord(identity, state, lastOutput, fingerprint, processes, stream, figures, soundness, generator,
                List.copyOf(results), watch);
    }

    public RunRecord withWatch(List<WatchedSource> sources) {
        return new RunRecord(identity, state, lastOutput, fingerprint, processes, stream, figures, soundness, generator,
                levels, List.copyOf(sources));
    }

    /** This run with what the study promised before it. */
    public RunRecord sealed(Seal promised) {
        return new RunRecord(identity.sealed(promised), state, lastOutput, fingerprint, processes, stream, figures,
                soundness, generator, levels, watch);
    }

    /** This run judged under the limits of a study that may have changed since it was made. */
    public RunRecord judgedUnder(Judgement judgement) {
        return new RunRecord(identity, state, lastOutput, fingerprint, processes, stream, figures,
                Soundness.under(soundness, judgement.limits()), generator, levels, watch);
    }
}
