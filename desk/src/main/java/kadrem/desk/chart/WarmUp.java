package kadrem.desk.chart;

import java.time.Duration;
import java.util.EnumMap;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.SecondSummary;
import kadrem.core.study.LoadProfile;
import kadrem.desk.look.Background;
import kadrem.figures.FigureTheme;
import kadrem.figures.NumberText;
import kadrem.figures.ProfileFigure;
import kadrem.figures.TimeFigure;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.fx.ChartCanvas;

/**
 * Draws figures that nobody sees, on a thread of its own at the start of the window. The first figure of a program loads
 * some hundred classes and the fonts; done here, it does not hold the window up when a station is opened.
 */
public final class WarmUp {
    private static final int TIMES = 3;

    private WarmUp() {
    }

    /** Begins and returns at once. */
    public static void begin(FigureTheme theme) {
        Background.AT_ONCE.run(() -> {
            for (int i = 0; i < TIMES; i++) {
                draw(ProfileFigure.chart(theme, new LoadProfile.Open(50, LoadProfile.Spacing.CONSTANT, 1,
                        Duration.ofSeconds(2), Duration.ofSeconds(8), Duration.ofSeconds(1))));
                draw(TimeFigure.chart(theme, "", NumberText::plain, seconds(), 2, 10, "", Optional.of(
                        new TimeFigure.Band(theme.accent(), SecondSummary::p50, SecondSummary::p99)),
                        List.of(new TimeFigure.Line("p99", theme.ink(), SecondSummary::p99))));
            }
        });
    }

    private static List<SecondSummary> seconds() {
        return IntStream.range(0, 10).mapToObj(second -> new SecondSummary(second, 50, 50, 50,
                new EnumMap<>(FailureKind.class), second, second + 1L, second + 2L, 0, 0, 0)).toList();
    }

    /** A canvas that is in no window may be drawn on by any thread. */
    private static void draw(JFreeChart chart) {
        var canvas = new ChartCanvas(chart);
        canvas.setWidth(400);
        canvas.setHeight(200);
        canvas.draw();
    }
}
