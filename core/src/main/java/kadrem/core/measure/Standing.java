package kadrem.core.measure;

import java.util.List;
import java.util.stream.Collectors;

/**
 * What a run is to a comparison. Nothing that a candidate does may keep a run out: only what was measured on the generator, on the
 * record or, where the study asks for quiet, on the host disturbs one, and then the whole round is set aside for all candidates.
 */
public sealed interface Standing {
    /** Made as planned, and the record is whole. */
    record Counted() implements Standing {
    }

    /**
     * The candidate did not come up, died, was ended by a stop rule, or could take no load: a result, the worst in every metric
     * (composite outcome: Lachin: Worst-rank score analysis with informatively missing observations, Controlled Clinical Trials 20,
     * 1999).
     *
     * @param words that stand behind the candidate's name, such as "died: it ended with exit code 3 during the load"
     */
    record OfCandidate(RunOutcome outcome, String words) implements Standing {
    }

    /** Something else than the candidate was measured; the round is set aside. */
    record Disturbed(List<Soundness.Finding> findings) implements Standing {
        public Disturbed {
            findings = List.copyOf(findings);
        }

        /** What was found, in a clause. */
        public String words() {
            return findings.stream().map(Soundness.Finding::sentence).collect(Collectors.joining("; "));
        }
    }

    /**
     * Not made to its end for a reason that lies with nobody: it is to be made again.
     *
     * @param words a clause such as "stopped by hand"
     */
    record NotMade(String words) implements Standing {
    }

    /** The standing of a run by its outcome and its findings. */
    static Standing of(RunRecord run) {
        return switch (run.outcome()) {
            case COMPLETE -> {
                List<Soundness.Finding> broken = run.soundness().stream().filter(Soundness.Finding::disturbs).toList();
                yield run.figures().isEmpty()
                        ? new NotMade("no figures")
                        : broken.isEmpty() ? new Counted() : new Disturbed(broken);
            }
            case DIED -> new OfCandidate(run.outcome(), "died: " + run.reason());
            case DID_NOT_START -> new OfCandidate(run.outcome(), "did not start: " + run.reason());
            case NO_LEVEL -> new OfCandidate(run.outcome(), "could not take the load: " + run.reason());
            case ENDED_BY_RULE -> new OfCandidate(run.outcome(), "ended by a stop rule: " + run.reason());
            case FAILED -> new NotMade("failed: " + run.reason());
            case STOPPED -> new NotMade("stopped by hand");
            case CUT_OFF -> new NotMade("cut off");
            case RUNNING -> new NotMade("still running");
        };
    }
}
