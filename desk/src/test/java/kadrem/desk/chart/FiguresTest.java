package kadrem.desk.chart;

import static org.assertj.core.api.Assertions.assertThat;

import java.awt.image.BufferedImage;
import java.time.Duration;
import java.util.EnumMap;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.SecondSummary;
import kadrem.core.study.LoadProfile;
import kadrem.desk.look.CandidateMark;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.XYPlot;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What figures draw, without a window. */
class FiguresTest {
    private static final FigureTheme THEME = new FigureTheme(false);

    @BeforeAll
    static void withoutWindows() {
        System.setProperty("java.awt.headless", "true");
    }

    private static List<SecondSummary> seconds(int count) {
        return IntStream.range(0, count).mapToObj(second -> new SecondSummary(second, 50, 50, 50 - second,
                new EnumMap<>(FailureKind.class), 1_000_000L * second, 2_000_000L * second, 3_000_000L * second, 0, 0,
                0)).toList();
    }

    private static JFreeChart time(int count, long end) {
        return TimeFigure.chart(THEME, "t", NumberText::plain, seconds(count), 2, end, "seconds",
                Optional.of(new TimeFigure.Band(THEME.accent(), SecondSummary::p50, SecondSummary::p99)),
                List.of(new TimeFigure.Line("good", THEME.ink(), SecondSummary::good)));
    }

    @Test
    void aTimeFigureHasAPointForEachSecondOfTheRun() {
        XYPlot plot = time(12, 10).getXYPlot();
        assertThat(plot.getDataset(0).getItemCount(0)).as("what comes after the end is not drawn").isEqualTo(10);
        assertThat(plot.getDataset(0).getXValue(0, 3)).isEqualTo(3.5);
        assertThat(plot.getDataset(0).getYValue(0, 3)).isEqualTo(47);
        assertThat(plot.getDataset(1).getItemCount(0)).as("the band").isEqualTo(10);
        assertThat(plot.getAnnotations()).as("each line is named at its end").hasSize(1);
    }

    @ParameterizedTest
    @CsvSource({"10,1", "22,2", "60,5", "140,10", "200,15", "400,30", "3600,300"})
    void ticksAreFewAndRound(long end, double step) {
        NumberAxis axis = (NumberAxis) time(2, end).getXYPlot().getDomainAxis();
        assertThat(axis.getTickUnit().getSize()).isEqualTo(step);
        assertThat(axis.getTickUnit().valueToString(end)).isEqualTo(Long.toString(end));
        assertThat(axis.getTickUnit().valueToString(end + step)).as("room for names has no labels").isEmpty();
    }

    @Test
    void timeAxesOfFiguresBelowEachOtherAreInLine() {
        assertThat(time(3, 10).getXYPlot().getFixedRangeAxisSpace().getLeft())
                .isEqualTo(time(30, 400).getXYPlot().getFixedRangeAxisSpace().getLeft()).isPositive();
    }

    /** In the dark and in the light every figure can be drawn, and is drawn on its own ground. */
    @Test
    void figuresAreDrawnOnTheGroundOfTheirTheme() {
        for (boolean dark : new boolean[]{false, true}) {
            var theme = new FigureTheme(dark);
            JFreeChart chart = ProfileFigure.chart(theme, new LoadProfile.Closed(5, Duration.ZERO,
                    Duration.ofSeconds(2), Duration.ofSeconds(8), Duration.ofSeconds(1)));
            BufferedImage image = chart.createBufferedImage(300, 200);
            assertThat(image.getRGB(1, 1)).isEqualTo(theme.paper().getRGB());
            assertThat(contrast(theme.ink(), theme.paper())).isGreaterThan(4.5);
            assertThat(contrast(theme.muted(), theme.paper())).isGreaterThan(4.5);
            assertThat(contrast(theme.alarm(), theme.paper())).isGreaterThan(4.5);
            assertThat(contrast(theme.accent(), theme.paper())).isGreaterThan(4.5);
        }
    }

    /** Contrast ratio and relative luminance of WCAG 2.1, section 1.4.3 and its definitions. */
    private static double contrast(java.awt.Color one, java.awt.Color other) {
        double a = luminance(one);
        double b = luminance(other);
        return (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
    }

    private static double luminance(java.awt.Color colour) {
        double[] parts = {colour.getRed() / 255.0, colour.getGreen() / 255.0, colour.getBlue() / 255.0};
        for (int i = 0; i < parts.length; i++) {
            parts[i] = parts[i] <= 0.03928 ? parts[i] / 12.92 : Math.pow((parts[i] + 0.055) / 1.055, 2.4);
        }
        return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2];
    }

    @Test
    void candidatesAreToldApartByLetterColourAndShape() {
        List<CandidateMark> marks = IntStream.range(0, 8).mapToObj(CandidateMark::new).toList();
        assertThat(marks.stream().map(CandidateMark::letter)).containsExactly("A", "B", "C", "D", "E", "F", "G", "H");
        assertThat(marks.stream().map(CandidateMark::awtColour).distinct()).hasSize(8);
        assertThat(marks.stream().map(mark -> mark.marker(5).getPoints().toString()).distinct()).hasSize(8);
        assertThat(new CandidateMark(26).letter()).isEqualTo("A1");
        assertThat(marks.getFirst().awtShape(5).getBounds2D().getWidth()).isBetween(9.0, 10.1);
    }

    @Test
    void axisLabelsAreWrittenByTheirFunction() {
        var text = new NumberText(value -> "<" + value + ">");
        assertThat(text.format(1.5)).isEqualTo("<1.5>");
        assertThat(text.format(7L)).isEqualTo("<7.0>");
        assertThat(NumberText.plain(1234.5)).isEqualTo("1,234.5");
    }
}
