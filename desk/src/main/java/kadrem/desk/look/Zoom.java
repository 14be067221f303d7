package kadrem.desk.look;

import javafx.beans.property.DoubleProperty;
import javafx.beans.property.SimpleDoubleProperty;
import javafx.scene.Parent;
import javafx.scene.layout.Region;
import javafx.scene.transform.Scale;

/** Shows the window's content larger or smaller: what is in it is laid out in as much less or more room. Interface thread only. */
public final class Zoom extends Region {
    private static final double STEP = 1.1;
    private static final double LEAST = 0.75;
    private static final double MOST = 2.2;

    private final Parent content;
    private final DoubleProperty factor = new SimpleDoubleProperty(1);
    private final Scale scale = new Scale(1, 1, 0, 0);

    public Zoom(Parent content) {
        this.content = content;
        content.getTransforms().add(scale);
        getChildren().add(content);
        factor.addListener((_, _, now) -> {
            scale.setX(now.doubleValue());
            scale.setY(now.doubleValue());
            requestLayout();
        });
    }

    /** By how much it is larger than it was made. */
    public double factor() {
        return factor.get();
    }

    public void larger() {
        factor.set(Math.min(MOST, factor.get() * STEP));
    }

    public void smaller() {
        factor.set(Math.max(LEAST, factor.get() / STEP));
    }

    public void asMade() {
        factor.set(1);
    }

    @Override
    protected void layoutChildren() {
        content.resizeRelocate(0, 0, getWidth() / factor.get(), getHeight() / factor.get());
    }
}
