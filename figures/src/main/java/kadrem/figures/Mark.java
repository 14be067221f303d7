package kadrem.figures;

import java.awt.Color;
import java.awt.Shape;
import java.awt.geom.AffineTransform;
import java.awt.geom.Path2D;

/**
 * Letter, colour and marker of a candidate, the same in every view and export. The colours are those of Okabe and Ito, Color
 * Universal Design, 2008, which people with any common colour vision can tell apart.
 */
public record Mark(int index) {
    private static final String[] COLOURS = {"#0072B2", "#D55E00", "#009E73", "#CC79A7", "#E69F00", "#56B4E9",
            "#8A7F00",
            "#555555"};
    private static final int[] CORNERS = {32, 4, 3, -4, 6, 5, -3, 8};

    public String letter() {
        return index < 26 ? String.valueOf((char) ('A' + index)) : "A" + (index - 25);
    }

    /** Red, green and blue in hexadecimal, with a leading #. */
    public String colour() {
        return COLOURS[index % COLOURS.length];
    }

    public Color awtColour() {
        return Color.decode(colour());
    }

    /** Corner points of the marker around the origin, one unit from it; x and y in turn. */
    public double[] points() {
        int corners = CORNERS[index % CORNERS.length];
        int count = Math.abs(corners);
        // positive four is a square on its side, negative four a diamond; a negative three points down
        double turn = switch (corners) {
            case 4 -> Math.PI / 4;
            case -3 -> Math.PI / 2;
            default -> -Math.PI / 2;
        };
        var points = new double[count * 2];
        for (int i = 0; i < count; i++) {
            points[2 * i] = Math.cos(turn + 2 * Math.PI * i / count);
            points[2 * i + 1] = Math.sin(turn + 2 * Math.PI * i / count);
        }
        return points;
    }

    /** The marker for a figure, {@code radius} pixels from centre to corner. */
    public Shape awtShape(double radius) {
        double[] points = points();
        var path = new Path2D.Double();
        path.moveTo(points[0], points[1]);
        for (int i = 2; i < points.length; i += 2) {
            path.lineTo(points[i], points[i + 1]);
        }
        path.closePath();
        return AffineTransform.getScaleInstance(radius, radius).createTransformedShape(path);
    }
}
