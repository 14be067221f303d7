package kadrem.core.rehearsal;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

import kadrem.core.plan.LoadDigest;
import kadrem.core.study.Agreement;
import kadrem.core.study.MeasuredStudy;

/**
 * One visit of each kind to every candidate.
 *
 * @param loadDigest digest of the workload that was rehearsed; in older ones, of workload and load
 * @param differences between each candidate and the baseline, whether accepted or not
 */
public record Rehearsal(Instant at, String loadDigest, List<OfCandidate> candidates, List<Difference> differences) {
    public Rehearsal {
        candidates = List.copyOf(candidates);
        differences = List.copyOf(differences);
    }

    /**
     * A candidate's exchanges, in the order of the calls.
     *
     * @param problem why there are none, or not all; empty where there are
     */
    public record OfCandidate(String candidate, List<RehearsedCall> calls, String problem) {
        public OfCandidate {
            calls = List.copyOf(calls);
        }

        public boolean isGood() {
            return problem.isEmpty() && calls.stream().allMatch(RehearsedCall::isGood);
        }
    }

    /** Whether this is what the study sends, however much of it. */
    public boolean isOf(MeasuredStudy study) {
        return loadDigest.equals(LoadDigest.ofWorkload(study)) || loadDigest.equals(LoadDigest.of(study));
    }

    /** The differences that the study does not accept. */
    public List<Difference> open(Agreement agreement) {
        return differences.stream().filter(difference -> agreement.reason(difference.call(), difference.where())
                .isEmpty()).toList();
    }

    /** Why nothing should be measured before the answers agree; empty where they do. */
    public Optional<String> objection(Agreement agreement) {
        List<Difference> open = open(agreement);
        if (open.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of("the rehearsal found " + open.size() + (open.size() == 1 ? " difference" : " differences")
                + " between the candidates' answers that the study does not accept (" + open.getFirst().sentence()
                + "). Mend the candidates or accept what does not matter with a reason, and rehearse again");
    }

    /** Whether every call is good and every difference accepted. */
    public boolean agrees(Agreement agreement) {
        return candidates.stream().allMatch(OfCandidate::isGood) && open(agreement).isEmpty();
    }
}
