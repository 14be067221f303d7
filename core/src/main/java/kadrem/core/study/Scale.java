package kadrem.core.study;

/** How two values are set against each other. */
public enum Scale {
    /** Candidate divided by baseline; differences are taken between logarithms. */
    RATIO("ratio", " %"),
    /** Candidate minus baseline, for values that can be zero. */
    DIFFERENCE("difference", " points");

    private final String id;
    private final String unit;

    Scale(String id, String unit) {
        this.id = id;
        this.unit = unit;
    }

    /** The word used in files. */
    public String id() {
        return id;
    }

    /** A value as it is when differences are taken: its logarithm, or itself. */
    public double of(double value) {
        return this == RATIO ? Math.log(value) : value;
    }

    /** A difference as it is shown: a ratio, or itself. */
    public double shown(double difference) {
        return this == RATIO ? Math.exp(difference) : difference;
    }

    /** What is shown where there is no difference: 1, or 0. */
    public double neutral() {
        return this == RATIO ? 1 : 0;
    }

    /** How large a difference is: a ratio less 1, or itself. */
    public double size(double difference) {
        return this == RATIO ? Math.expm1(difference) : difference;
    }

    /** What such a size is counted in, in figures and tables: "%" or "points". */
    public String unit() {
        return unit.strip();
    }

    /** A size in words: "4.1 %" or "0.2 points". */
    public String words(double size) {
        return Written.significant(size * 100) + unit;
    }

    /** How large a difference is, in words. */
    public String wordsOf(double difference) {
        return words(size(difference));
    }
}
