package kadrem.desk.examine;

import java.util.List;

import javafx.scene.Node;

/** A side from which runs are looked at. Interface thread only. */
interface ExamineSide {
    /** What it shows of at least one run, from top to bottom. */
    List<Node> show(Looked looked);
}
