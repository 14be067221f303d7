package kadrem.core.measure;

import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.stream.Collectors;

import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Candidate;
import kadrem.core.study.Judgement;
import kadrem.core.study.Launch;
import kadrem.core.study.Metric;
import kadrem.core.study.Seal;
import kadrem.core.study.Study;

/**
 * One run as it is kept.
 *
 * @param id short random word that tells apart two tries of the same round and candidate
 * @param position place of the candidate in the order of its round, from 1
 * @param streamSeed seed of everything sent, the same for all candidates of a round
 * @param studyDigest digest of workload and load, so that runs of an edited study are told apart
 * @param reason why the run failed, stopped or was cut off; empty for a complete one
 * @param lastOutput last lines that the candidate wrote, kept for a failed run
 * @param fingerprint what was measured, by attribute
 * @param machine where it was measured, by attribute
 * @param generator what making the load cost
 * @param levels results of the levels of a ladder or ceiling search; empty for one level
 * @param seal what the study promised before it; empty in older runs
 * @param watch how the watch of each source of host figures went
 * @param processes ids and start instants (ms since 1970) of Kadrem and of the candidate's root process
 */
public record RunRecord(String id, int round, String candidate, int position, long streamSeed, String studyDigest,
        Instant started, Optional<Instant> ended, RunOutcome outcome, String reason, List<String> lastOutput,
        Map<String, String> fingerprint, Map<String, String> machine, Processes processes,
        Optional<StreamDigest> stream, Optional<RunFigures> figures, List<Soundness.Finding> soundness,
        Optional<GeneratorFigures> generator, List<LevelResult> levels, List<WatchedSource> watch,
        Optional<Seal> seal) {

    /** A run of which it is not known what was promised before it. */
    public RunRecord(String id, int round, String candidate, int position, long streamSeed, String studyDigest,
            Instant started, Optional<Instant> ended, RunOutcome outcome, String reason, List<String> lastOutput,
            Map<String, String> fingerprint, Map<String, String> machine, Processes processes,
            Optional<StreamDigest> stream, Optional<RunFigures> figures, List<Soundness.Finding> soundness,
            Optional<GeneratorFigures> generator, List<LevelResult> levels, List<WatchedSource> watch) {
        this(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason, lastOutput,
                fingerprint, machine, processes, stream, figures, soundness, generator, levels, watch,
                Optional.empty());
    }

    /** A run that has just begun. */
    public static RunRecord begun(String id, int round, String candidate, int position, long streamSeed,
            String studyDigest, Instant started, Map<String, String> machine, Processes processes) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, Optional.empty(),
                RunOutcome.RUNNING, "", List.of(), Map.of(), machine, processes, Optional.empty(), Optional.empty(),
                List.of(), Optional.empty(), List.of(), List.of());
    }

    /** Process ids with start instants, by which a leftover is recognised without taking another for it; 0 is none. */
    public record Processes(long kadremPid, long kadremStarted, long candidatePid, long candidateStarted) {
        public static final Processes NONE = new Processes(0, 0, 0, 0);
    }

    /** ROUND-CANDIDATE-ID, the name of the run's folder. */
    public String folderName() {
        return String.format(java.util.Locale.ROOT, "%03d-%s-%s", round, candidate, id);
    }

    /** Number of processors of the machine that it was made on; 1 where it is not known. */
    public int processors() {
        String told = machine.getOrDefault("processors", "");
        return told.matches("\\d{1,6}") ? Math.max(1, Integer.parseInt(told)) : 1;
    }

    /** Processors that the candidate may use: those of its set, else all of the machine. */
    public double cores(Study study) {
        return study.candidate(candidate).flatMap(Candidate::launch).flatMap(Launch::processors)
                .map(set -> Launch.processors(set).cardinality())
                .orElse(processors());
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
        return outcome == RunOutcome.COMPLETE && figures.isPresent();
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

    /** The same of one call; empty where it was not made. */
    public OptionalDouble value(Metric metric, String call) {
        return standing() instanceof Standing.OfCandidate
                ? OptionalDouble.of(metric.worst())
                : figures.stream().flatMap(all -> all.calls().stream()).filter(one -> one.name().equals(call))
                        .findFirst()
                        .map(one -> one.value(metric)).orElse(OptionalDouble.empty());
    }

    /** This run with what the study promised before it. */
    public RunRecord sealed(Seal promised) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason,
                lastOutput, fingerprint, machine, processes, stream, figures, soundness, generator, levels, watch,
                Optional.of(promised));
    }

    /** The sitting it belongs to: one host, one start of its system, one day (in UTC). */
    public String sitting() {
        String boot = machine.getOrDefault("boot", "");
        return started.atOffset(ZoneOffset.UTC).toLocalDate() + (boot.isEmpty() ? "" : ", boot " + boot);
    }

    public RunRecord withOutcome(RunOutcome newOutcome, String newReason, Instant end) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, Optional.of(end),
                newOutcome, newReason, lastOutput, fingerprint, machine, processes, stream, figures, soundness,
                generator, levels, watch, seal);
    }

    public RunRecord withLastOutput(List<String> lines) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason,
                List.copyOf(lines), fingerprint, machine, processes, stream, figures, soundness,
                generator, levels, watch, seal);
    }

    public RunRecord withFingerprint(Map<String, String> found) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason,
                lastOutput, found, machine, processes, stream, figures, soundness,
                generator, levels, watch, seal);
    }

    public RunRecord withProcesses(Processes found) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason,
                lastOutput, fingerprint, machine, found, stream, figures, soundness,
                generator, levels, watch, seal);
    }

    public RunRecord withResult(StreamDigest digest, RunFigures result, List<Soundness.Finding> findings) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason,
                lastOutput, fingerprint, machine, processes, Optional.of(digest), Optional.of(result),
                List.copyOf(findings), generator, levels, watch, seal);
    }

    /** A run whose figures were measured by other means. */
    public RunRecord withElsewhere(RunFigures values) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason,
                lastOutput, fingerprint, machine, processes, stream, Optional.of(values), soundness, generator, levels,
                watch, seal);
    }

    public RunRecord withGenerator(GeneratorFigures own) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason,
                lastOutput, fingerprint, machine, processes, stream, figures, soundness, Optional.of(own), levels,
                watch, seal);
    }

    public RunRecord withLevels(List<LevelResult> results) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason,
                lastOutput, fingerprint, machine, processes, stream, figures, soundness, generator,
                List.copyOf(results), watch, seal);
    }

    public RunRecord withWatch(List<WatchedSource> sources) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason,
                lastOutput, fingerprint, machine, processes, stream, figures, soundness, generator, levels,
                List.copyOf(sources), seal);
    }

    /** This run judged under the limits of a study that may have changed since it was made. */
    public RunRecord judgedUnder(Judgement judgement) {
        return new RunRecord(id, round, candidate, position, streamSeed, studyDigest, started, ended, outcome, reason,
                lastOutput, fingerprint, machine, processes, stream, figures,
                Soundness.under(soundness, judgement.limits()), generator, levels, watch, seal);
    }
}
