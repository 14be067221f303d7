package kadrem.core.study;

import java.util.Arrays;
import java.util.Optional;
import java.util.stream.Collectors;

/** How the generator waits for what is due next. */
public enum Pacing {
    /** Never sleeps: for a lane that has a processor of its own. */
    ALWAYS("always", "never sleeping"),
    /** Sleeps only where nothing is due soon and no answer is expected at any moment. */
    EXACT("exact", "awake around each due instant and while answers come"),
    /** Sleeps until something is due or has come: for hosts that have no processor to spare. */
    THRIFTY("thrifty", "sleeping between due instants");

    private final String id;
    private final String words;

    Pacing(String id, String words) {
        this.id = id;
        this.words = words;
    }

    /** The word used in files and options. */
    public String id() {
        return id;
    }

    /** The words used on screens. */
    public String words() {
        return words;
    }

    public static Optional<Pacing> byId(String id) {
        return Arrays.stream(values()).filter(pacing -> pacing.id.equals(id)).findFirst();
    }

    /** The words of files, as in "always, exact or thrifty". */
    public static String ids() {
        return Arrays.stream(values()).map(Pacing::id).collect(Collectors.joining(", ")).replaceFirst(", (\\w+)$",
                " or $1");
    }

    /** What fits a host: exact where each lane can have a processor and as many are left. */
    public static Pacing fitting(int processors, int lanes) {
        return processors >= 2 * lanes ? EXACT : THRIFTY;
    }
}
