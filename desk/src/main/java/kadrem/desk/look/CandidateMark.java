package kadrem.desk.look;

import java.awt.Shape;
import java.awt.geom.AffineTransform;
import java.awt.geom.Path2D;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.paint.Color;
import javafx.scene.shape.Polygon;

/**
 * Letter, colour and marker of a candidate, the same in every view. The colours are those of Okabe and Ito, Color Universal
 * Design, 2008, which people with any common colour vision can tell apart.
 */
public record CandidateMark(int index) {
    private static final String[] COLOURS = {"#0072B2", "#D55E00", "#009E73", "#CC79A7", "#E69F00", "#56B4E9",
            "#8A7F00",
            "#555555"};
    private static final int[] CORNERS = {32, 4, 3, -4, 6, 5, -3, 8};

    public String letter() {
        return index < 26 ? String.valueOf((char) ('A' + index)) : "A" + (index - 25);
    }

    public Color colour() {
        return Color.web(COLOURS[index % COLOURS.length]);
    }

    public java.awt.Color awtColour() {
        return java.awt.Color.decode(COLOURS[index % COLOURS.length]);
    }

    /** Corner points of the marker around the origin, one unit from it; x and y in turn. */
    private double[] points() {
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

    /** The marker as a node. */
    public Polygon marker(double radius) {
        var polygon = new Polygon();
        for (double point : points()) {
            polygon.getPoints().add(point * radius);
        }
        polygon.setFill(colour());
        polygon.setStroke(colour());
        return polygon;
    }

    /** Marker, letter and {@code name} in a row. */
    public Node label(String name) {
        var text = new Label(letter() + "  " + name, marker(6));
        text.setGraphicTextGap(8);
        text.getStyleClass().add("candidate-label");
        var row = new HBox(text);
        row.getStyleClass().add("candidate-row");
        return row;
    }
}
