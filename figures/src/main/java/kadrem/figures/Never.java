package kadrem.figures;

import java.awt.Color;
import java.util.List;

import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.ui.TextAnchor;

/** Marks at the upper edge of a figure over time, where a value was not reached: too many calls got no good answer. */
final class Never {
    static final String MARK = "▲";
    private static final int SIZE = 11;

    private Never() {
    }

    /**
     * Marks instants. Called when all else is drawn, since the axis of values stays as it is from then on.
     *
     * @param at seconds, in order; none leaves the figure as it is
     */
    static void mark(FigureTheme theme, XYPlot plot, List<Double> at, Color colour) {
        if (at.isEmpty()) {
            return;
        }
        double top = plot.getRangeAxis().getUpperBound();
        at.forEach(second -> theme.write(plot, MARK, second, top, SIZE, TextAnchor.TOP_CENTER, colour));
        // to the left, since lines are named to the right of their ends
        theme.write(plot, "not reached  ", at.getFirst(), top, SIZE, TextAnchor.TOP_RIGHT, colour);
    }
}
