package kadrem.figures;

import java.awt.Color;
import java.util.List;

import org.jfree.chart.annotations.XYTextAnnotation;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.ui.TextAnchor;

/** Marks at the upper edge of a figure over time, where a value was not reached: too many calls got no good answer. */
final class Never {
    static final String MARK = "▲";

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
        at.forEach(second -> write(theme, plot, MARK, second, top, TextAnchor.TOP_CENTER, colour));
        // to the left, since lines are named to the right of their ends
        write(theme, plot, "not reached  ", at.getFirst(), top, TextAnchor.TOP_RIGHT, colour);
    }

    private static void write(FigureTheme theme, XYPlot plot, String words, double x, double y, TextAnchor anchor,
            Color colour) {
        var text = new XYTextAnnotation(words, x, y);
        text.setFont(theme.font(11));
        text.setPaint(colour);
        text.setTextAnchor(anchor);
        plot.addAnnotation(text);
    }
}
