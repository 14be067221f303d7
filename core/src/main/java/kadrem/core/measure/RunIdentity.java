package kadrem.core.measure;

import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.Seal;
import kadrem.core.study.Study;

/**
 * What is known of a run before it is made, and never changes.
 *
 * @param id short random word that tells apart two tries of the same round and candidate
 * @param position place of the candidate in the order of its round, from 1
 * @param streamSeed seed of everything sent, the same for all candidates of a round
 * @param studyDigest digest of workload and load, so that runs of an edited study are told apart
 * @param machine where it is measured, by attribute
 * @param seal what the study promised before it; empty in older runs
 */
public record RunIdentity(String id, int round, String candidate, int position, long streamSeed, String studyDigest,
        Instant started, Map<String, String> machine, Optional<Seal> seal) {

    /** ROUND-CANDIDATE-ID, the name of the run's folder. */
    public String folderName() {
        return String.format(Locale.ROOT, "%03d-%s-%s", round, candidate, id);
    }

    /** Number of processors of the machine that it was made on; 1 where it is not known. */
    public int processors() {
        String told = machine.getOrDefault("processors", "");
        return told.matches("\\d{1,6}") ? Math.max(1, Integer.parseInt(told)) : 1;
    }

    /** Processors that the candidate may use: those of its set, else all of the machine. */
    public double cores(Study study) {
        return study.candidate(candidate).flatMap(Candidate::launch).flatMap(Launch::processors)
                .map(set -> Launch.processors(set).cardinality()).orElse(processors());
    }

    /** The sitting it belongs to: one host, one start of its system, one day (in UTC). */
    public String sitting() {
        return sitting(started, machine);
    }

    /** The sitting of what is measured at an instant on a machine. */
    public static String sitting(Instant at, Map<String, String> machine) {
        String boot = machine.getOrDefault("boot", "");
        return at.atOffset(ZoneOffset.UTC).toLocalDate() + (boot.isEmpty() ? "" : ", boot " + boot);
    }

    /** This run with what the study promised before it. */
    public RunIdentity sealed(Seal promised) {
        return new RunIdentity(id, round, candidate, position, streamSeed, studyDigest, started, machine,
                Optional.of(promised));
    }
}
