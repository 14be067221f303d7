package kadrem.desk.examine;

import java.util.ArrayList;
import java.util.List;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.figures.DensityFigure;
import kadrem.desk.chart.Figure;
import kadrem.figures.RunLine;

/** Response times over time as maps below each other, on the same axes. */
final class DensitySide implements ExamineSide {
    /** More density maps beside each other could not be read. */
    private static final int MAX_MAPS = 4;

    @Override
    public List<Node> show(Looked looked) {
        List<RunLine> some = looked.lines().subList(0, Math.min(MAX_MAPS, looked.runs().size()));
        int first = Integer.MAX_VALUE;
        int behind = 0;
        for (RunLine line : some) {
            int[] bins = line.view().density().filled();
            if (bins[0] < bins[1]) {
                first = Math.min(first, bins[0]);
                behind = Math.max(behind, bins[1]);
            }
        }
        int[] bins = {Math.min(first, behind), behind};
        List<Node> nodes = new ArrayList<>();
        for (RunLine line : some) {
            Node map = TimeBrush.over(new Figure("density of response times, " + line.name(),
                    DensityFigure.chart(looked.theme(), line, bins, looked.warmUp(), looked.end(), looked.chosenTime(),
                            line == some.getLast())),
                    looked.brush());
            VBox.setVgrow(map, Priority.ALWAYS);
            nodes.add(map);
        }
        if (some.size() < looked.runs().size()) {
            var words = new Label("The first " + MAX_MAPS + " of " + looked.runs().size() + " runs.");
            words.getStyleClass().add("muted");
            nodes.add(words);
        }
        return nodes;
    }
}
