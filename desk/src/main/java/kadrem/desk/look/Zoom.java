package kadrem.desk.look;

import javafx.beans.property.DoubleProperty;
import javafx.beans.property.SimpleDoubleProperty;
import javafx.collections.ListChangeListener;
import javafx.collections.WeakListChangeListener;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.Scene;
import javafx.scene.layout.Region;
import javafx.scene.transform.Scale;
import javafx.stage.Window;

/**
 * Shows the window's content larger or smaller: what is in it is laid out in as much less or more room. Menus, lists, dialogs and what is
 * said beside the pointer are windows of their own, and get a font of that size. Interface thread only.
 */
public final class Zoom extends Region {
    /** Of the style of all windows. */
    private static final double FONT = 14;
    private static final String SIZE = "-fx-font-size: ";
    private static final double STEP = 1.1;
    private static final double LEAST = 0.75;
    private static final double MOST = 2.2;

    private final Parent content;
    private final DoubleProperty factor = new SimpleDoubleProperty(1);
    private final Scale scale = new Scale(1, 1, 0, 0);
    private final ListChangeListener<Window> windows = change -> {
        while (change.next()) {
            change.getAddedSubList().forEach(this::fit);
        }
    };

    public Zoom(Parent content) {
        this.content = content;
        content.getTransforms().add(scale);
        getChildren().add(content);
        factor.addListener((_, _, now) -> {
            scale.setX(now.doubleValue());
            scale.setY(now.doubleValue());
            requestLayout();
            Window.getWindows().forEach(this::fit);
        });
        // the list of windows outlives each of them
        Window.getWindows().addListener(new WeakListChangeListener<>(windows));
    }

    private void fit(Window window) {
        Scene scene = window.getScene();
        if (scene != null && getScene() != null && scene != getScene()) {
            fit(scene.getRoot());
            // the content of a menu or a list takes its font from the control that it belongs to, not from its root
            scene.getRoot().getChildrenUnmodifiable().forEach(this::fit);
        }
    }

    private void fit(Node node) {
        // a style that is taken away leaves the font that it gave, so that it is changed instead
        if (factor.get() != 1 || node.getStyle().startsWith(SIZE)) {
            String rest = node.getStyle().replaceFirst("^" + SIZE + "[^;]*;", "");
            node.setStyle(SIZE + FONT * factor.get() + "px;" + rest);
        }
    }

    public DoubleProperty factorProperty() {
        return factor;
    }

    /** By how much it is larger than it was made. */
    public double factor() {
        return factor.get();
    }

    public void larger() {
        set(factor.get() * STEP);
    }

    public void smaller() {
        set(factor.get() / STEP);
    }

    public void asMade() {
        set(1);
    }

    /** Within bounds in which all can be read and reached. */
    void set(double wanted) {
        double bound = Double.isNaN(wanted) ? 1 : Math.clamp(wanted, LEAST, MOST);
        // steps up and down lead back to where they began
        factor.set(Math.abs(bound - 1) < STEP / 100 ? 1 : bound);
    }

    @Override
    protected void layoutChildren() {
        content.resizeRelocate(0, 0, getWidth() / factor.get(), getHeight() / factor.get());
    }
}
