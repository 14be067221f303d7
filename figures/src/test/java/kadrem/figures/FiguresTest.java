package kadrem.figures;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.awt.image.BufferedImage;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;

import javax.imageio.ImageIO;
import javax.xml.parsers.DocumentBuilderFactory;

import kadrem.core.examine.CallView;
import kadrem.core.examine.Density;
import kadrem.core.examine.RunView;
import kadrem.core.examine.Selection;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Latency;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.Phase;
import kadrem.core.measure.SecondSummary;
import kadrem.core.study.LoadProfile;
import org.HdrHistogram.Histogram;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.annotations.XYTextAnnotation;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.data.Range;
import org.jfree.data.xy.XYZDataset;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
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

    /** Where too many calls got no answer the line breaks off, and the upper edge is marked; the axis keeps to what was reached. */
    @Test
    void whatWasNotReachedIsMarkedAtTheUpperEdge() {
        List<SecondSummary> seconds = new ArrayList<>(seconds(10));
        for (int i = 4; i < 7; i++) {
            seconds.set(i, new SecondSummary(i, 50, 50, 10, Map.of(FailureKind.TIMEOUT, 40L), 1_000_000, Long.MAX_VALUE,
                    Long.MAX_VALUE, 0, 0, 0));
        }
        XYPlot plot = TimeFigure.chart(THEME, "t", NumberText::plain, seconds, 0, 10, "seconds",
                Optional.of(new TimeFigure.Band(THEME.accent(), second -> LatencySummary.millis(second.p50()),
                        second -> LatencySummary.millis(second.p99()))),
                List.of(new TimeFigure.Line("p99", THEME.ink(), second -> LatencySummary.millis(second.p99()))))
                .getXYPlot();
        double top = plot.getRangeAxis().getUpperBound();
        assertThat(top).isBetween(27.0, 40.0);
        List<XYTextAnnotation> notes = plot.getAnnotations().stream().map(XYTextAnnotation.class::cast).toList();
        assertThat(notes.stream().filter(note -> note.getText().equals(Never.MARK)).map(XYTextAnnotation::getX))
                .containsExactly(4.5, 5.5, 6.5);
        assertThat(plot.getDataset(0).getYValue(0, 5)).isNaN();
        assertThat(notes).anySatisfy(note -> {
            assertThat(note.getText()).isEqualTo("not reached  ");
            assertThat(note.getY()).isEqualTo(top);
        });
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
    void ticksHaveRoom() {
        JFreeChart chart = time(2, 28);
        NumberAxis axis = (NumberAxis) chart.getXYPlot().getDomainAxis();
        chart.createBufferedImage(900, 120);
        assertThat(axis.getTickUnit().getSize()).isEqualTo(2);
        chart.createBufferedImage(220, 120);
        assertThat(axis.getTickUnit().getSize()).isBetween(5.0, 15.0);
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

    /** A run of {@code calls} that took 1 ms, 2 ms, 3 ms and so on. */
    private static RunLine run(int calls) {
        var view = new RunView.Builder(Selection.ALL);
        Histogram histogram = Latency.forRun();
        for (int i = 1; i <= calls; i++) {
            histogram.recordValue(i * 1_000_000L);
        }
        view.response(3, Phase.MEASURED, "c", histogram);
        return new RunLine("A1", THEME.ink(), view.build());
    }

    @Test
    void theTailIsStretchedAndEndsWhereFewCallsAreLeft() {
        assertThat(TailFigure.percentile(0)).isZero();
        assertThat(TailFigure.percentile(1)).isCloseTo(90, within(1e-9));
        assertThat(TailFigure.percentile(3)).isCloseTo(99.9, within(1e-9));
        assertThat(TailFigure.end(10)).isZero();
        assertThat(TailFigure.end(1_000)).isCloseTo(2, within(1e-12));
        assertThat(TailFigure.end(100_000_000)).as("99.999 %").isEqualTo(5);
        XYPlot plot = TailFigure.chart(THEME, List.of(run(1_000))).getXYPlot();
        int last = plot.getDataset().getItemCount(0) - 1;
        assertThat(plot.getDataset().getXValue(0, last)).isCloseTo(2, within(1e-9));
        assertThat(plot.getDataset().getYValue(0, last)).as("p99 of 1 to 1,000 ms").isCloseTo(990, within(1.0));
        assertThat(plot.getDataset().getYValue(0, 50)).as("p90").isCloseTo(900, within(1.0));
    }

    /** Of 1,000 calls 100 got no good answer: the curve ends at p90. */
    @Test
    void theTailEndsWhereCallsWentWithout() {
        var view = new RunView.Builder(Selection.ALL);
        Histogram histogram = Latency.forRun();
        for (int i = 1; i <= 900; i++) {
            histogram.recordValue(i * 1_000_000L);
        }
        view.response(3, Phase.MEASURED, "c", histogram);
        view.counts(0, 3, Phase.MEASURED, "c",
                new CallView.Counts(1_000, 900, Map.of(FailureKind.TIMEOUT, 100L), 0, 0));
        XYPlot plot = TailFigure.chart(THEME, List.of(new RunLine("A1", THEME.ink(), view.build()))).getXYPlot();
        int last = plot.getDataset().getItemCount(0) - 1;
        assertThat(plot.getDataset().getXValue(0, last)).as("90 %").isCloseTo(1, within(1e-9));
        assertThat(plot.getDataset().getYValue(0, last)).isCloseTo(900, within(1.0));
    }

    @Test
    void sharesOfTheSpreadAddUp() {
        double[] shares = SpreadFigure.shares(run(500).view().total().response());
        assertThat(Arrays.stream(shares).sum()).isCloseTo(1, within(1e-9));
        assertThat(Arrays.stream(shares).filter(share -> share > 0).count()).isGreaterThan(20);
    }

    @Test
    void aDensityHasAPlaceForEachStepOfTimeAndResponseTime() {
        RunLine run = run(100);
        int[] bins = run.view().density().filled();
        assertThat(Density.edge(bins[0])).isLessThanOrEqualTo(1e6).isGreaterThan(0.8e6);
        XYPlot plot = DensityFigure.chart(THEME, run, bins, 2, 10, Optional.empty(), true).getXYPlot();
        double calls = IntStream.range(0, plot.getDataset().getItemCount(0))
                .mapToDouble(i -> ((XYZDataset) plot.getDataset()).getZValue(0, i)).sum();
        assertThat(calls).isEqualTo(100);
        assertThat(plot.getDataset().getXValue(0, 0)).as("second 3").isEqualTo(3);
    }

    @Test
    void namesOfLinesStayInsideTheFigureAndApart() {
        List<double[]> points = List.of(new double[]{0, 1}, new double[]{5, 10});
        XYPlot plot = CourseFigure.chart(THEME, "t", NumberText::plain,
                IntStream.range(0, 6).mapToObj(i -> new CourseFigure.Course("A" + i, THEME.ink(), points)).toList(), 0,
                5, Optional.empty(), List.of(new CourseFigure.Note(3, "the tide turns")),
                CourseFigure.Style.lines(true)).getXYPlot();
        double[] places = plot.getAnnotations().stream().mapToDouble(one -> ((XYTextAnnotation) one).getY()).sorted()
                .toArray();
        assertThat(places).hasSize(6);
        assertThat(places[5]).isLessThan(plot.getRangeAxis().getUpperBound());
        for (int i = 1; i < places.length; i++) {
            assertThat(places[i] - places[i - 1]).isGreaterThan(plot.getRangeAxis().getRange().getLength() * 0.07);
        }
    }

    @Test
    void aLineBreaksWhereNothingWasTold() {
        List<double[]> points = List.of(new double[]{1, 4}, new double[]{2, 5}, new double[]{3, 5}, new double[]{9, 6});
        XYPlot plot = CourseFigure.chart(THEME, "t", NumberText::plain,
                List.of(new CourseFigure.Course("A1", THEME.ink(), points)), 0, 10, Optional.empty(), List.of(),
                CourseFigure.Style.lines(true)).getXYPlot();
        assertThat(IntStream.range(0, 5).mapToObj(i -> plot.getDataset().getY(0, i))).containsExactly(4.0, 5.0, 5.0,
                null, 6.0);
    }

    @Test
    void linesInAnotherUnitHaveAnAxisAtTheRight() {
        JFreeChart chart = time(5, 10);
        Range left = chart.getXYPlot().getRangeAxis().getRange();
        RightAxis.add(THEME, chart, "users",
                List.of(new CourseFigure.Course("A1", THEME.ink(),
                        List.of(new double[]{1, 400}, new double[]{2, 800}))));
        XYPlot plot = chart.getXYPlot();
        assertThat(plot.getRangeAxis(1).getRange().contains(800)).isTrue();
        assertThat(plot.getRangeAxis(1).getLabel()).startsWith("users");
        assertThat(plot.getRangeAxisForDataset(2)).isSameAs(plot.getRangeAxis(1));
        assertThat(plot.getRangeAxis().getRange()).as("the left one keeps its own").isEqualTo(left);
    }

    @Test
    void aFigureIsSavedAsPictureAndAsDrawing(@TempDir Path folder) throws Exception {
        JFreeChart chart = TailFigure.chart(THEME, List.of(run(1_000)));
        FigureFile.write(chart, 300, 200, folder.resolve("tail.png"));
        BufferedImage picture = ImageIO.read(folder.resolve("tail.png").toFile());
        assertThat(picture.getWidth()).isEqualTo(600);
        assertThat(IntStream.range(0, 400).map(y -> picture.getRGB(300, y)).distinct().count())
                .as("something is drawn").isGreaterThan(3);
        FigureFile.write(chart, 300, 200, folder.resolve("tail.SVG"));
        var parsed = DocumentBuilderFactory.newInstance();
        parsed.setFeature("http://apache.org/xml/features/nonvalidating/load-external-dtd", false);
        var drawing = parsed.newDocumentBuilder().parse(folder.resolve("tail.SVG").toFile()).getDocumentElement();
        assertThat(drawing.getTagName()).isEqualTo("svg");
        assertThat(drawing.getAttribute("width")).isEqualTo("300");
        assertThat(drawing.getTextContent()).contains("share of the calls").contains("A1").contains("90 %");
        assertThat(drawing.getElementsByTagName("path").getLength()).as("curve and turned texts").isGreaterThan(3);
        assertThatThrownBy(() -> FigureFile.write(chart, 300, 200, folder.resolve("tail.gif")))
                .isInstanceOf(IOException.class).hasMessageContaining("Give it one of these endings");
    }

    @Test
    void candidatesAreToldApartByLetterColourAndShape() {
        List<Mark> marks = IntStream.range(0, 8).mapToObj(Mark::new).toList();
        assertThat(marks.stream().map(Mark::letter)).containsExactly("A", "B", "C", "D", "E", "F", "G", "H");
        assertThat(marks.stream().map(Mark::awtColour).distinct()).hasSize(8);
        assertThat(marks.stream().map(mark -> Arrays.toString(mark.points())).distinct()).hasSize(8);
        assertThat(new Mark(26).letter()).isEqualTo("A1");
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
