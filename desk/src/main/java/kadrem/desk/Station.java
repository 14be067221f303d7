package kadrem.desk;

import java.util.List;
import java.util.Optional;

import javafx.scene.Parent;
import kadrem.core.verdict.Explanation;

/** One place of work in the window. Interface thread only. */
public interface Station {
    /** Name in the spine. */
    String name();

    Parent view();

    /** Shows the study in its present state. */
    void show(Session.State state);

    /** One line of live summary for the spine. */
    String summary(Session.State state);

    Progress progress(Session.State state);

    /** Whether there is nothing to do here in a study whose figures were measured elsewhere. */
    default boolean needsLoad() {
        return true;
    }

    /** What the figure that is looked at has to say for itself, for the key F1; empty where there is none. */
    default Optional<Explanation> why() {
        return Optional.empty();
    }

    /** What can be looked for here by its name. */
    default List<Destination> destinations(Session.State state) {
        return List.of();
    }

    /** How far the station is, shown by a mark of its own shape. */
    enum Progress {
        EMPTY("nothing here yet"), IN_WORK("in work"), DONE("done"), NEEDS_YOU("needs you");

        private final String words;

        Progress(String words) {
            this.words = words;
        }

        public String words() {
            return words;
        }
    }
}
