package kadrem.desk.load;

import java.awt.geom.Rectangle2D;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.Pane;
import javafx.scene.layout.StackPane;
import javafx.scene.shape.Rectangle;
import kadrem.core.study.Crowds;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Written;
import kadrem.desk.chart.Figure;
import kadrem.figures.CrowdsFigure;
import kadrem.figures.FigureTheme;
import kadrem.figures.ProfileFigure;
import org.jfree.chart.axis.ValueAxis;
import org.jfree.chart.plot.XYPlot;
import org.jspecify.annotations.Nullable;

/**
 * The profile as a curve with a handle at the end of each of its pieces, which is dragged or moved by arrow keys: sideways
 * it changes how long the piece lasts, upwards and downwards its level.
 */
final class ProfilePane extends StackPane {
    private static final double HANDLE = 11;
    /** A level step is about this share of the axis, rounded to a power of ten. */
    private static final double FINENESS = 200;
    private static final int KEY_STEPS = 5;

    private final Consumer<LoadProfile.Single> preview;
    private final Consumer<LoadProfile.Single> commit;
    private final Pane handles = new Pane();
    private @Nullable Figure figure;
    private Optional<LoadProfile.Single> load = Optional.empty();
    private FigureTheme theme = new FigureTheme(false);
    private ProfileFigure.Axes axes = new ProfileFigure.Axes(1, 1);
    private boolean dragging;

    /**
     * @param preview told of the profile while it is dragged
     * @param commit told of it when a handle is let go
     */
    ProfilePane(Consumer<LoadProfile.Single> preview, Consumer<LoadProfile.Single> commit) {
        this.preview = preview;
        this.commit = commit;
        handles.setPickOnBounds(false);
        layoutBoundsProperty().addListener((_, _, _) -> javafx.application.Platform.runLater(this::place));
    }

    /** Shows crowds, which have no handles; one of them alone where it is chosen. */
    void show(Crowds crowds, Optional<String> chosen, FigureTheme look) {
        load = Optional.empty();
        theme = look;
        var chart = CrowdsFigure.chart(look, crowds, chosen);
        handles.getChildren().clear();
        // a figure of its own: its plot is of another kind
        figure = null;
        getChildren().setAll(new Figure("crowds", chart), handles);
    }

    /** Shows a load; while a handle is dragged nothing else is shown. */
    void show(LoadProfile.Single shown, FigureTheme look) {
        if (!dragging) {
            load = Optional.of(shown);
            theme = look;
            axes = ProfileFigure.Axes.of(shown);
            draw();
        }
    }

    private void draw() {
        load.ifPresent(shown -> {
            var chart = ProfileFigure.chart(theme, shown, axes);
            Figure drawn = figure;
            if (drawn == null) {
                drawn = new Figure("load profile", chart);
                figure = drawn;
                getChildren().setAll(drawn, handles);
            } else {
                drawn.show(chart);
            }
            int wanted = ProfileHandle.of(shown).size();
            while (handles.getChildren().size() > wanted) {
                handles.getChildren().removeLast();
            }
            while (handles.getChildren().size() < wanted) {
                handles.getChildren().add(handle(handles.getChildren().size()));
            }
            place();
        });
    }

    /** Puts the handles where the curve is, once the figure knows its size. */
    private void place() {
        Figure drawn = figure;
        if (drawn == null || load.isEmpty()) {
            return;
        }
        List<ProfileHandle> known = ProfileHandle.of(load.get());
        Optional<Rectangle2D> area = drawn.dataArea();
        for (int i = 0; i < Math.min(known.size(), handles.getChildren().size()); i++) {
            Node node = handles.getChildren().get(i);
            ProfileHandle handle = known.get(i);
            node.setVisible(area.isPresent());
            node.setAccessibleText(handle.words(load.get()) + "; arrow keys change it");
            area.ifPresent(room -> {
                XYPlot plot = drawn.plot();
                node.setLayoutX(x(plot.getDomainAxis(), handle.second(load.get()), room, plot) - HANDLE / 2);
                node.setLayoutY(y(plot.getRangeAxis(), handle.level(load.get()), room, plot) - HANDLE / 2);
            });
        }
    }

    private static double x(ValueAxis axis, double value, Rectangle2D room, XYPlot plot) {
        return axis.valueToJava2D(value, room, plot.getDomainAxisEdge());
    }

    private static double y(ValueAxis axis, double value, Rectangle2D room, XYPlot plot) {
        return axis.valueToJava2D(value, room, plot.getRangeAxisEdge());
    }

    private Node handle(int index) {
        var node = new Rectangle(HANDLE, HANDLE);
        node.getStyleClass().add("profile-handle");
        node.setRotate(45);
        node.setFocusTraversable(true);
        node.setId("handle-" + index);
        node.setAccessibleRole(javafx.scene.AccessibleRole.SLIDER);
        node.addEventHandler(MouseEvent.MOUSE_PRESSED, event -> {
            node.requestFocus();
            dragging = true;
            event.consume();
        });
        node.addEventHandler(MouseEvent.MOUSE_DRAGGED, event -> {
            drag(index, handles.sceneToLocal(event.getSceneX(), event.getSceneY()));
            event.consume();
        });
        node.addEventHandler(MouseEvent.MOUSE_RELEASED, event -> {
            dragging = false;
            load.ifPresent(commit);
            event.consume();
        });
        node.addEventHandler(KeyEvent.KEY_PRESSED, event -> key(index, event));
        return node;
    }

    private void drag(int index, Point2D at) {
        Figure drawn = figure;
        if (drawn == null || load.isEmpty()) {
            return;
        }
        drawn.dataArea().ifPresent(room -> {
            XYPlot plot = drawn.plot();
            double second = plot.getDomainAxis().java2DToValue(at.getX(), room, plot.getDomainAxisEdge());
            double level = plot.getRangeAxis().java2DToValue(at.getY(), room, plot.getRangeAxisEdge());
            move(index, Math.min(second, axes.seconds()), Math.min(level, axes.level()));
        });
    }

    private void move(int index, double second, double level) {
        LoadProfile.Single before = load.orElseThrow();
        ProfileHandle handle = ProfileHandle.of(before).get(index);
        double timeStep = axes.seconds() > 3600 ? 60 : axes.seconds() > 600 ? 5 : 1;
        double levelStep = levelStep(before);
        // one level of nothing would be no load at all
        double least = before.shape().isFlat() ? levelStep : 0;
        LoadProfile.Single after = handle.moved(before,
                Duration.ofSeconds(Math.round(Math.rint(second / timeStep) * timeStep)),
                Math.max(least, Math.rint(level / levelStep) * levelStep));
        load = Optional.of(after);
        draw();
        preview.accept(after);
    }

    /** Users are whole; arrivals go in steps of a power of ten. */
    private double levelStep(LoadProfile.Single before) {
        double step = Math.pow(10, Math.floor(Math.log10(axes.level() / FINENESS) + 0.5));
        return before instanceof LoadProfile.Closed ? Math.max(1, step) : step;
    }

    private void key(int index, KeyEvent event) {
        if (load.isEmpty() || load.get().course().search().isPresent()) {
            return;
        }
        LoadProfile.Single before = load.get();
        ProfileHandle handle = ProfileHandle.of(before).get(index);
        double second = handle.second(before);
        double level = handle.level(before);
        double up = levelStep(before) * KEY_STEPS;
        switch (event.getCode()) {
            case LEFT -> move(index, second - 1, level);
            case RIGHT -> move(index, second + 1, level);
            case UP -> move(index, second, level + up);
            case DOWN -> move(index, second, level - up);
            default -> {
                return;
            }
        }
        event.consume();
        load.ifPresent(commit);
    }

    /** What is shown, in words, for those who cannot see it. */
    static String words(LoadProfile.Single load, double second, double level) {
        return "at " + Written.significant(second) + " s " + Written.significant(level)
                + (load instanceof LoadProfile.Open ? " arrivals/s" : " users");
    }
}
