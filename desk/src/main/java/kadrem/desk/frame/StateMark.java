package kadrem.desk.frame;

import javafx.scene.Node;
import javafx.scene.shape.SVGPath;
import kadrem.desk.Station;

/** The mark of a station's progress: a shape each, so that colour only repeats what the shape says. */
final class StateMark {
    private StateMark() {
    }

    static Node of(Station.Progress progress) {
        var path = new SVGPath();
        path.setContent(switch (progress) {
            case EMPTY -> "M1 1 H11 V11 H1 Z M2.5 2.5 V9.5 H9.5 V2.5 Z";
            case IN_WORK -> "M1 1 H11 V11 H1 Z M2.5 2.5 V6 H9.5 V2.5 Z";
            case DONE -> "M1 1 H11 V11 H1 Z";
            case NEEDS_YOU -> "M6 0 L12 11 H0 Z";
        });
        path.setFillRule(javafx.scene.shape.FillRule.EVEN_ODD);
        path.getStyleClass().addAll("state-mark", "state-" + progress.name().toLowerCase(java.util.Locale.ROOT));
        return path;
    }
}
