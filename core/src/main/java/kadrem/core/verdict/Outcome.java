package kadrem.core.verdict;

/** What can be said of a pair of candidates on a metric. */
public enum Outcome {
    BETTER_BY_MORE("better-by-more-than-margin", "settled, better by more than the margin"), BETTER("better",
            "settled, better"), NO_DIFFERENCE_THAT_MATTERS("no-difference-that-matters",
                    "settled, no difference that matters"), NOT_SETTLED("not-settled", "not settled"), WORSE("worse",
                            "settled, worse"), WORSE_BY_MORE("worse-by-more-than-margin",
                                    "settled, worse by more than the margin");

    private final String id;
    private final String words;

    Outcome(String id, String words) {
        this.id = id;
        this.words = words;
    }

    /** The word used in files. */
    public String id() {
        return id;
    }

    public String words() {
        return words;
    }

    /** What holds of the other candidate of the pair. */
    public Outcome mirrored() {
        return switch (this) {
            case BETTER_BY_MORE -> WORSE_BY_MORE;
            case BETTER -> WORSE;
            case NO_DIFFERENCE_THAT_MATTERS -> NO_DIFFERENCE_THAT_MATTERS;
            case NOT_SETTLED -> NOT_SETTLED;
            case WORSE -> BETTER;
            case WORSE_BY_MORE -> BETTER_BY_MORE;
        };
    }

    public boolean isSettled() {
        return this != NOT_SETTLED;
    }
}
