package kadrem.desk.measure;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.SecondSummary;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Written;
import kadrem.desk.chart.Figure;
import kadrem.desk.look.Look;
import kadrem.figures.CourseFigure;
import kadrem.figures.FigureTheme;
import kadrem.figures.RightAxis;
import kadrem.figures.TimeFigure;
import kadrem.load.host.HostSources;
import kadrem.load.host.local.OwnHost;
import org.jfree.chart.JFreeChart;

/** The seconds of a run as figures over one time axis: calls, response time, its parts, processors. */
final class RunCharts {
    /** Names that find room at the end of a line. */
    private static final Map<String, String> SHORT_NAMES = Map.of(HostSources.CANDIDATE, "cand.", OwnHost.NAME, "host",
            LiveRun.LANES.source(), "gen.");
    private static final List<String> FIGURE_NAMES = List.of("calls sent and answered each second",
            "response time each second", "parts of a response time each second: late, waiting, service",
            "processors each second");

    private final Look look;
    private final VBox view = new VBox(6);
    /** The figures' canvases, made once: new ones for each second would cost more than the drawing. */
    private final List<Figure> drawn = new ArrayList<>();

    RunCharts(Look look) {
        this.look = look;
        VBox.setVgrow(view, Priority.ALWAYS);
    }

    VBox view() {
        return view;
    }

    void clear() {
        view.getChildren().clear();
    }

    void draw(MeasuredStudy study, List<SecondSummary> seconds, WatchView watch) {
        boolean search = study.load().course().search().isPresent();
        long warmUp = search ? 0 : study.load().warmUp().toSeconds();
        long end = search || study.load().course().visits().isPresent()
                ? seconds.isEmpty() ? lastSecond(study.load()) : seconds.getLast().second() + 1L
                : lastSecond(study.load());
        List<JFreeChart> charts = charts(study, seconds, watch, warmUp, end);
        charts.stream().skip(1).forEach(RightAxis::leaveRoom);
        for (int i = 0; i < charts.size(); i++) {
            if (drawn.size() <= i) {
                var figure = new Figure(FIGURE_NAMES.get(i), charts.get(i));
                VBox.setVgrow(figure, Priority.ALWAYS);
                drawn.add(figure);
            } else {
                drawn.get(i).show(charts.get(i));
            }
        }
        List<Figure> wanted = drawn.subList(0, charts.size());
        if (!view.getChildren().equals(wanted)) {
            view.getChildren().setAll(wanted);
        }
    }

    private List<JFreeChart> charts(MeasuredStudy study, List<SecondSummary> seconds, WatchView watch, long warmUp,
            long end) {
        FigureTheme theme = look.figures();
        var charts = new ArrayList<JFreeChart>();
        charts.add(TimeFigure.chart(theme, "calls a second", Written::significant, seconds, warmUp, end, "",
                Optional.empty(),
                List.of(new TimeFigure.Line("sent", theme.muted(), SecondSummary::sent),
                        new TimeFigure.Line("good", theme.accent(), SecondSummary::good),
                        new TimeFigure.Line("failed", theme.alarm(), SecondSummary::failedTotal))));
        RightAxis.add(theme, charts.getFirst(),
                study.load() instanceof LoadProfile.Closed ? "waiting - -" : "under way - -",
                List.of(new CourseFigure.Course("", theme.muted(), seconds.stream()
                        .filter(second -> second.second() < end)
                        .map(second -> new double[]{second.second() + 0.5, second.busy()}).toList())));
        charts.add(TimeFigure.chart(theme, "response, ms", Written::significant, seconds, warmUp, end, "",
                Optional.of(new TimeFigure.Band(theme.accent(), second -> LatencySummary.millis(second.p50()),
                        second -> LatencySummary.millis(second.p99()))),
                List.of(new TimeFigure.Line("p50", theme.muted(), second -> LatencySummary.millis(second.p50())),
                        new TimeFigure.Line("p95", theme.accent(), second -> LatencySummary.millis(second.p95())),
                        new TimeFigure.Line("p99", theme.ink(), second -> LatencySummary.millis(second.p99())))));
        List<CourseFigure.Course> processors = processors(theme, watch);
        charts.add(TimeFigure.chart(theme, "its parts, ms", Written::significant, seconds, warmUp, end,
                processors.isEmpty() ? "seconds since the start of the warm-up" : "", Optional.empty(),
                List.of(new TimeFigure.Line("late", theme.alarm(), second -> second.parts().late() / 1e6),
                        new TimeFigure.Line("waiting", theme.muted(), second -> second.parts().waiting() / 1e6),
                        new TimeFigure.Line("service", theme.accent(), second -> second.parts().service() / 1e6))));
        // runs from before hosts were watched have none
        if (!processors.isEmpty()) {
            charts.add(CourseFigure.chart(theme, "CPU, %", Written::significant, processors, warmUp, end,
                    Optional.empty(), List.of(), CourseFigure.Style.lines(true)));
        }
        return charts;
    }

    /** Candidate and generator in per cent of a core, this host in per cent of all its processors. */
    private static List<CourseFigure.Course> processors(FigureTheme theme, WatchView watch) {
        return watch.courses().stream().filter(one -> one.series().name().equals("CPU"))
                .filter(one -> Set.of(HostSources.CANDIDATE, OwnHost.NAME, LiveRun.LANES.source())
                        .contains(one.series().source()))
                .map(one -> new CourseFigure.Course(
                        SHORT_NAMES.getOrDefault(one.series().source(), one.series().source()),
                        one.series().source().equals(HostSources.CANDIDATE)
                                ? theme.accent()
                                : one.series().source().equals(OwnHost.NAME) ? theme.muted() : theme.ink(),
                        one.points().stream().filter(point -> point[0] >= 0).toList()))
                .toList();
    }

    /** The longest that a run of this load can take. */
    static long lastSecond(LoadProfile load) {
        return load.total().toSeconds() * load.course().search().map(LevelSearch::most).orElse(1);
    }
}
