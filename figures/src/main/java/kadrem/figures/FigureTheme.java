package kadrem.figures;

import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Font;
import java.awt.Stroke;
import java.text.NumberFormat;
import java.util.Optional;
import java.util.stream.Stream;

import org.jfree.chart.JFreeChart;
import org.jfree.chart.annotations.XYTextAnnotation;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.ValueAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.ui.RectangleInsets;
import org.jfree.chart.ui.TextAnchor;

/** Kadrem's own look of a figure: paper ground, a hairline grid on one axis, units in the axis title, no legend. */
public record FigureTheme(boolean dark) {
    private static final Stroke HAIRLINE = new BasicStroke(0.6f);

    public Color paper() {
        return dark ? new Color(0x1C, 0x22, 0x24) : new Color(0xFD, 0xFB, 0xF5);
    }

    public Color ink() {
        return dark ? new Color(0xE9, 0xE4, 0xD8) : new Color(0x22, 0x2B, 0x2E);
    }

    public Color faint() {
        return dark ? new Color(0x39, 0x43, 0x46) : new Color(0xDD, 0xD6, 0xC6);
    }

    public Color muted() {
        return dark ? new Color(0xA9, 0xB0, 0xAC) : new Color(0x5F, 0x66, 0x63);
    }

    /** The ground of the zone in which a difference does not matter. */
    public Color zone() {
        return dark ? new Color(0x2E, 0x3A, 0x37) : new Color(0xEC, 0xEA, 0xD8);
    }

    public Color accent() {
        return dark ? new Color(0x6F, 0xC0, 0xB0) : new Color(0x0F, 0x5C, 0x55);
    }

    public Color alarm() {
        return dark ? new Color(0xF0, 0x8A, 0x6C) : new Color(0xA6, 0x3A, 0x1C);
    }

    public Font font(int size) {
        return FigureFonts.text(size);
    }

    public Stroke line() {
        return new BasicStroke(1.8f, BasicStroke.CAP_ROUND, BasicStroke.JOIN_ROUND);
    }

    /** A chart of {@code plot} in this look. */
    public JFreeChart chart(XYPlot plot) {
        plot.setBackgroundPaint(paper());
        plot.setOutlineVisible(false);
        plot.setAxisOffset(new RectangleInsets(2, 2, 2, 2));
        plot.setDomainGridlinesVisible(false);
        plot.setRangeGridlinesVisible(true);
        plot.setRangeGridlinePaint(faint());
        plot.setRangeGridlineStroke(HAIRLINE);
        plot.setRangeZeroBaselineVisible(false);
        // a plot that is a part of another has only one of them
        Stream.of(Optional.ofNullable(plot.getDomainAxis()), Optional.ofNullable(plot.getRangeAxis()))
                .flatMap(Optional::stream).forEach(this::dress);
        var chart = new JFreeChart(null, font(12), plot, false);
        chart.setBackgroundPaint(paper());
        chart.setPadding(new RectangleInsets(6, 4, 2, 14));
        chart.addSubtitle(new FirstFont());
        return chart;
    }

    /** Words at a place of a plot, in its own units. */
    void write(XYPlot plot, String words, double x, double y, int size, TextAnchor anchor, Color colour) {
        var text = new XYTextAnnotation(words, x, y);
        text.setFont(font(size));
        text.setPaint(colour);
        text.setTextAnchor(anchor);
        plot.addAnnotation(text);
    }

    /** Gives an axis this look. */
    void dress(ValueAxis axis) {
        axis.setLabelFont(font(12));
        axis.setTickLabelFont(font(11));
        axis.setLabelPaint(muted());
        axis.setTickLabelPaint(muted());
        axis.setAxisLinePaint(faint());
        axis.setTickMarkPaint(faint());
        axis.setAxisLineStroke(HAIRLINE);
    }

    /** A number axis titled with its unit, whose labels are written by {@code format}. */
    public static NumberAxis axis(String title, NumberFormat format) {
        var axis = new NumberAxis(title);
        axis.setNumberFormatOverride(format);
        axis.setAutoRangeIncludesZero(true);
        axis.setUpperMargin(0.08);
        return axis;
    }
}
