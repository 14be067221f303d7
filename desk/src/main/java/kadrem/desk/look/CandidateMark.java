package kadrem.desk.look;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.paint.Color;
import javafx.scene.shape.Polygon;
import kadrem.figures.Mark;

/** The mark of a candidate, as the window shows it. */
public record CandidateMark(int index) {
    private Mark mark() {
        return new Mark(index);
    }

    public String letter() {
        return mark().letter();
    }

    public Color colour() {
        return Color.web(mark().colour());
    }

    /** The marker as a node. */
    public Polygon marker(double radius) {
        var polygon = new Polygon();
        for (double point : mark().points()) {
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
