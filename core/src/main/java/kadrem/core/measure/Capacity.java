package kadrem.core.measure;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalDouble;

import kadrem.core.study.Written;

/**
 * What load a machine can make with a workload, as a self-check found out.
 *
 * @param beside calls a second against a peer on the same machine that answered at once, which takes processor time too
 * @param alone calls a second that the lanes could make by their own processor time, with the candidates on other hosts
 * @param failedShare share of calls that failed; above 0 the workload does not fit the rehearsed answers any more
 * @param peer what answered
 * @param untried words for the protocols of candidates that no peer of Kadrem's speaks
 */
public record Capacity(double beside, OptionalDouble alone, double failedShare, Peer peer, List<String> untried) {
    public Capacity {
        untried = List.copyOf(untried);
    }

    /** Found over all ways in which the candidates are reached. */
    public Capacity(double beside, OptionalDouble alone, double failedShare, Peer peer) {
        this(beside, alone, failedShare, peer, List.of());
    }

    /** The same, with what could not be tried. */
    public Capacity without(List<String> protocols) {
        return new Capacity(beside, alone, failedShare, peer, protocols);
    }

    /** What answered the self-check's calls. */
    public enum Peer {
        /** With the answers of the last rehearsal, so that expectations and captured values cost what they will cost. */
        AS_REHEARSED("with the rehearsed answers"),
        /** With an empty object: without a rehearsal no better answer is known. */
        EMPTY("with empty answers, since there is no rehearsal of this workload yet"),
        /** Over another protocol than HTTP: what goes over the wire is not what a rehearsal keeps. */
        MIN("with the shortest answers of its protocol");

        private final String words;

        Peer(String words) {
            this.words = words;
        }
    }

    /** A share of a machine's capacity up to which its own queue stays out of the figures; common practice, no source. */
    private static final double USABLE = 0.7;

    /** Calls a second beyond which the generator rather than the candidate would be measured. */
    public double usable(boolean onThisMachine) {
        return USABLE * (onThisMachine ? beside : alone.orElse(beside));
    }

    /** "This machine makes 84,100 calls/s of this workload …". */
    public String sentence() {
        return "This machine makes " + Written.significant(beside)
                + " calls/s of this workload over the wire of "
                + (untried.isEmpty() ? "its candidates" : "those candidates of which Kadrem has a peer")
                + ", to a peer beside it that answers at once "
                + peer.words
                + (alone.isPresent()
                        ? "; with the candidates on other hosts about " + Written.significant(alone.getAsDouble())
                                + " by the generator's own processor time"
                        : "")
                + "."
                + (failedShare > 0.01
                        ? String.format(Locale.ROOT, " %.0f %% of the calls did not find what they expect in them.",
                                failedShare * 100)
                        : "")
                + (untried.isEmpty() ? "" : " Not tried: " + String.join(", ", untried) + ".");
    }

    /** Why a load cannot be made well; empty where it can. */
    public Optional<String> objection(double callsPerSecond, boolean onThisMachine) {
        double usable = usable(onThisMachine);
        return callsPerSecond <= usable
                ? Optional.empty()
                : Optional.of("The load asks for " + Written.significant(callsPerSecond)
                        + " calls/s. This machine makes " + Written.significant(usable / USABLE)
                        + " of them at most, and should be asked for " + Written.significant(usable)
                        + " so that its own queue stays out of the figures. Ask for less, or measure from a larger"
                        + " machine.");
    }
}
