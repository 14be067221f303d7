package kadrem.desk.compare;

import java.util.List;
import java.util.function.Consumer;

import javafx.scene.Node;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Explanation;
import kadrem.desk.Session;
import kadrem.figures.FigureTheme;

/** A side from which a comparison is looked at. Interface thread only. */
interface CompareSide {
    /**
     * What is looked at.
     *
     * @param why opens the drawer in which a figure explains itself
     */
    record Looked(Session.State state, Metric metric, FigureTheme theme, Consumer<Explanation> why) {
        Study study() {
            return state.study();
        }

        Comparison comparison() {
            return state.comparison();
        }
    }

    List<Node> show(Looked looked);
}
