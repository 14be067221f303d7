package kadrem.desk.examine;

import java.util.ArrayList;
import java.util.List;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Written;
import kadrem.figures.CourseFigure;
import kadrem.desk.chart.Figure;
import kadrem.figures.RightAxis;
import kadrem.figures.ScatterFigure;
import org.jfree.chart.JFreeChart;

/** Any two of the recorded figures: both over time, or one against the other. */
final class CourseSide implements ExamineSide {
    private static final double CHOICE_WIDTH = 240;
    private static final int MAX_APART = 5;

    private final ComboBox<Drawable> upper;
    private final ComboBox<Drawable> lower;
    private final ToggleButton area = new ToggleButton("Area");
    private final ToggleButton apart = new ToggleButton("A figure each");
    private final ToggleButton both = new ToggleButton("Both in one");
    private final boolean against;
    private final String firstUpper;
    private final String firstLower;

    private CourseSide(String id, boolean against, String firstUpper, String firstLower, Runnable changed) {
        this.against = against;
        this.firstUpper = firstUpper;
        this.firstLower = firstLower;
        upper = choice(id + "-upper", changed);
        lower = choice(id + "-lower", changed);
        var layout = new ToggleGroup();
        layout.getToggles().addAll(apart, both);
        for (ToggleButton button : List.of(area, apart, both)) {
            button.getStyleClass().add("small-button");
            button.setOnAction(_ -> changed.run());
        }
        both.setId(id + "-both");
        area.setId(id + "-area");
        apart.setId(id + "-apart");
    }

    /** Two figures over time. */
    static CourseSide overTime(Runnable changed) {
        return new CourseSide("course", false, CourseFigures.P99.toString(), CourseFigures.GOOD.toString(), changed);
    }

    /** One against the other. */
    static CourseSide against(Runnable changed) {
        return new CourseSide("scatter", true, CourseFigures.P99.toString(), "candidate: CPU, % of a core", changed);
    }

    private static ComboBox<Drawable> choice(String id, Runnable changed) {
        var box = new ComboBox<Drawable>();
        box.setId(id);
        box.setPrefWidth(CHOICE_WIDTH);
        box.setAccessibleText("figure that is drawn");
        box.valueProperty().addListener((_, before, now) -> {
            if (before != null && now != null && !before.title().equals(now.title())) {
                changed.run();
            }
        });
        return box;
    }

    /** The choices, what was chosen among them by its title. */
    private static void fill(ComboBox<Drawable> box, List<Drawable> all, String first) {
        String wanted = box.getValue() == null ? first : box.getValue().title();
        if (!box.getItems().stream().map(Drawable::title).toList().equals(all.stream().map(Drawable::title).toList())) {
            box.setItems(FXCollections.observableArrayList(all));
        }
        box.setValue(box.getItems().stream().filter(one -> one.title().equals(wanted)).findFirst()
                .orElse(box.getItems().getFirst()));
    }

    @Override
    public List<Node> show(Looked looked) {
        List<Drawable> all = Drawable.of(looked.runs());
        fill(upper, all, firstUpper);
        fill(lower, all, all.stream().map(Drawable::title).anyMatch(firstLower::equals)
                ? firstLower
                : CourseFigures.UNDER_WAY.toString());
        var words = new Label(against
                ? "A dot a second; the later the fuller."
                : "Drag to choose a time.");
        words.getStyleClass().add("muted");
        var choices = new FlowPane(10, 4, upper, lower);
        if (!against) {
            choices.getChildren().addAll(area, apart, both);
        }
        choices.getChildren().add(words);
        choices.setAlignment(Pos.CENTER_LEFT);
        if (against) {
            return List.of(choices, scatter(looked));
        }
        if (apart.isSelected()) {
            return apart(looked, choices);
        }
        if (both.isSelected()) {
            return List.of(choices, together(looked));
        }
        return List.of(choices, course(looked, looked.runs(), upper.getValue(), style(false, 0)),
                course(looked, looked.runs(), lower.getValue(), style(true, 0)));
    }

    private CourseFigure.Style style(boolean last, double most) {
        return new CourseFigure.Style(last, area.isSelected(), most);
    }

    /** The upper figure, a run each, on the same axes. */
    private List<Node> apart(Looked looked, Node choices) {
        List<Examined> some = looked.runs().subList(0, Math.min(MAX_APART, looked.runs().size()));
        double most = some.stream().flatMap(run -> upper.getValue().points().apply(run).stream())
                .mapToDouble(point -> point[1]).max().orElse(0);
        List<Node> nodes = new ArrayList<>(List.of(choices));
        for (Examined run : some) {
            nodes.add(course(looked, List.of(run), upper.getValue(), style(run == some.getLast(), most)));
        }
        return nodes;
    }

    /** Both figures over one another, each against its own axis. */
    private Node together(Looked looked) {
        JFreeChart chart = chart(looked, looked.runs(), upper.getValue(), style(true, 0));
        RightAxis.add(looked.theme(), chart, lower.getValue().title() + " (dashed)",
                courses(looked.runs(), lower.getValue()));
        return brushed(looked, upper.getValue() + " and " + lower.getValue(), chart);
    }

    private Node scatter(Looked looked) {
        double from = looked.selection().isWholeTime() ? looked.warmUp() : looked.selection().from();
        double to = Math.min(looked.selection().to(), looked.end());
        var clouds = looked.runs().stream().map(one -> new ScatterFigure.Cloud(one.name(), one.colour(),
                Drawable.pairs(one, lower.getValue(), upper.getValue(), from, to))).toList();
        var figure = new Figure(upper.getValue() + " against " + lower.getValue(), ScatterFigure.chart(looked.theme(),
                lower.getValue().title(), upper.getValue().title(), clouds));
        VBox.setVgrow(figure, Priority.ALWAYS);
        return figure;
    }

    /** A figure of some runs over time, with a brush over it. */
    static Node course(Looked looked, List<Examined> runs, Drawable drawable, CourseFigure.Style style) {
        return brushed(looked, drawable.title(), chart(looked, runs, drawable, style));
    }

    private static JFreeChart chart(Looked looked, List<Examined> runs, Drawable drawable, CourseFigure.Style style) {
        return CourseFigure.chart(looked.theme(), drawable.title(), Written::significant, courses(runs, drawable),
                looked.warmUp(), looked.end(), looked.chosenTime(), looked.notes(), style);
    }

    private static List<CourseFigure.Course> courses(List<Examined> runs, Drawable drawable) {
        return runs.stream()
                .map(one -> new CourseFigure.Course(one.name(), one.colour(), drawable.points().apply(one))).toList();
    }

    private static Node brushed(Looked looked, String name, JFreeChart chart) {
        var figure = TimeBrush.over(new Figure(name, chart), looked.brush());
        VBox.setVgrow(figure, Priority.ALWAYS);
        return figure;
    }
}
