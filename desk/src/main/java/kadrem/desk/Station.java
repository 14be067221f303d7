package kadrem.desk;

import javafx.scene.Node;

/** One place of work in the window. Interface thread only. */
public interface Station {
    /** Name in the spine. */
    String name();

    Node view();

    /** Shows the study in its present state. */
    void show(Session.State state);

    /** One line of live summary for the spine. */
    String summary(Session.State state);

    Progress progress(Session.State state);

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
