package kadrem.figures;

import java.awt.Color;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.function.DoubleUnaryOperator;

import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.Range;

/** Names of lines by their ends, in the lines' colours, moved apart where they would cover each other. */
final class LineNames {
    private final double share;
    private final List<Name> names = new ArrayList<>();

    private record Name(String text, Color colour, double x, double y) {
    }

    /** @param share height of a name as a share of the value axis */
    LineNames(double share) {
        this.share = share;
    }

    void add(String text, Color colour, double x, double y) {
        names.add(new Name(text, colour, x, y));
    }

    /**
     * @param scale the axis' scale: the identity, or a logarithm
     * @param back its inverse
     */
    void write(FigureTheme theme, XYPlot plot, Range values, DoubleUnaryOperator scale, DoubleUnaryOperator back) {
        double low = scale.applyAsDouble(values.getLowerBound());
        double room = (scale.applyAsDouble(values.getUpperBound()) - low) * share;
        List<Name> upwards = new ArrayList<>(names);
        upwards.sort(Comparator.comparingDouble(Name::y));
        var places = new double[upwards.size()];
        double lowest = low + room / 2;
        for (int i = 0; i < places.length; i++) {
            places[i] = Math.max(scale.applyAsDouble(upwards.get(i).y()), lowest);
            lowest = places[i] + room;
        }
        // where they were pushed out at the top, down again
        double highest = scale.applyAsDouble(values.getUpperBound()) - room / 2;
        for (int i = places.length - 1; i >= 0 && places[i] > highest; i--) {
            places[i] = highest;
            highest -= room;
        }
        for (int i = 0; i < places.length; i++) {
            Name name = upwards.get(i);
            theme.write(plot, " " + name.text(), name.x(), back.applyAsDouble(places[i]), 12, TextAnchor.CENTER_LEFT,
                    name.colour());
        }
    }
}
