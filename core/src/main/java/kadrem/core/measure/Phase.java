package kadrem.core.measure;

/** The part of a run in which a call was due. */
public enum Phase {
    WARM_UP("warm-up"), MEASURED("measured"), WIND_DOWN("wind-down");

    private final String id;

    Phase(String id) {
        this.id = id;
    }

    /** The word used in files. */
    public String id() {
        return id;
    }
}
