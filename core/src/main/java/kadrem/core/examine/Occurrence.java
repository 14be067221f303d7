package kadrem.core.examine;

/**
 * Something worth a sentence that happened in a run.
 *
 * @param second second after the start of the warm-up
 * @param sentence without a full stop; the second stands in it
 */
public record Occurrence(int second, Weight weight, String sentence) {
    /** How much it matters for what the run's figures mean. */
    public enum Weight {
        /** The candidate's own behaviour. */
        CANDIDATE,
        /** Something that spoils the run or what is known of it. */
        DOUBT
    }
}
