package kadrem.work;

import java.util.List;
import java.util.Optional;

import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Standing;

/**
 * How a measurement ended.
 *
 * @param target what was measured
 * @param made the runs made, in order; none where all were made before
 * @param stopped whether the user ended it
 * @param settled whether an adaptive plan came to its end before its last round
 * @param gaveUp why it ended itself, where the runs of a candidate failed for one reason
 * @param follows what follows from the runs, in sentences; empty where nothing is to be added
 */
public record Ended(Target target, List<RunRecord> made, boolean stopped, boolean settled, Optional<String> gaveUp,
        String follows) {
    public Ended {
        made = List.copyOf(made);
    }

    private long count(RunOutcome outcome) {
        return made.stream().filter(run -> run.outcome() == outcome).count();
    }

    /** Whether a run could not be made. */
    public boolean hasFailures() {
        return count(RunOutcome.FAILED) > 0;
    }

    /** What came of it, in sentences. */
    public String words() {
        long failed = count(RunOutcome.FAILED);
        long ruled = count(RunOutcome.ENDED_BY_RULE);
        long disturbed = made.stream().filter(run -> run.standing() instanceof Standing.Disturbed)
                .map(RunRecord::round).distinct().count();
        var words = new StringBuilder(stopped && ruled == 0 && gaveUp.isEmpty()
                ? "Stopped; what was measured stays, and Measure goes on from there."
                : made.isEmpty()
                        ? "All " + target.wanted() + " rounds are measured."
                        : made.size() + (made.size() == 1 ? " run made." : " runs made."));
        made.stream().filter(_ -> gaveUp.isEmpty()).filter(run -> run.outcome() == RunOutcome.FAILED).findFirst()
                .ifPresent(
                        run -> words.append(" ").append(failed).append(" failed, the first because ")
                                .append(run.reason())
                                .append("."));
        made.stream().filter(run -> run.outcome() != RunOutcome.ENDED_BY_RULE)
                .filter(run -> run.standing() instanceof Standing.OfCandidate).findFirst().ifPresent(
                        run -> words.append(" Round ").append(run.round()).append(", ").append(run.candidate())
                                .append(": ").append(((Standing.OfCandidate) run.standing()).words())
                                .append(", which is a result."));
        if (ruled > 0) {
            words.append(" ").append(ruled).append(" ended by a stop rule.");
        }
        if (disturbed > 0) {
            words.append(" ").append(disturbed).append(disturbed == 1 ? " round was" : " rounds were")
                    .append(" disturbed and set aside; others were added.");
        }
        if (settled) {
            words.append(" Every deciding pair is settled, so that no further round is needed.");
        }
        gaveUp.ifPresent(why -> words.append(" It was ended, since a candidate failed twice alike and would again. ")
                .append(why).append(why.endsWith(".") ? "" : "."));
        return words.toString();
    }
}
