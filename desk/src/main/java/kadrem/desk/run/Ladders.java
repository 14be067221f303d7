package kadrem.desk.run;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.measure.LevelResult;
import kadrem.core.scaling.ScalabilityFit;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Written;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Study;
import kadrem.desk.chart.Figure;
import kadrem.figures.Mark;
import kadrem.figures.FigureTheme;
import kadrem.figures.LadderFigure;
import kadrem.desk.look.CandidateMark;

/** Throughput against users or arrivals of ladders, with the scalability law where users wait for answers. */
public final class Ladders {
    private static final int SECONDS_A_MINUTE = 60;

    private Ladders() {
    }

    /** The ladders of some runs as a figure with sentences; only sentences where they have one level of load. */
    public static List<Node> of(FigureTheme theme, Study study, List<RunRecord> runs) {
        boolean users = study.load() instanceof LoadProfile.Closed;
        Map<String, List<List<ScalabilityFit.Point>>> rounds = new LinkedHashMap<>();
        for (RunRecord run : runs) {
            List<ScalabilityFit.Point> points = points(run.levels());
            if (!points.isEmpty()) {
                rounds.computeIfAbsent(run.candidate(), _ -> new ArrayList<>()).add(points);
            }
        }
        var words = new Label();
        words.setWrapText(true);
        words.setId("ladder-words");
        if (rounds.isEmpty()) {
            words.setText(
                    "These runs have one level of load. A ladder, chosen in the Load station, measures level after level;"
                            + " then throughput is set against users here, with the fitted law, its bend and its ceiling.");
            return List.of(words);
        }
        var ladders = new ArrayList<LadderFigure.Ladder>();
        Map<String, Optional<ScalabilityFit>> fits = new LinkedHashMap<>();
        rounds.forEach((candidate, of) -> {
            var mark = new CandidateMark(study.indexOf(candidate));
            List<ScalabilityFit.Point> all = of.stream().flatMap(List::stream).toList();
            Optional<ScalabilityFit> fit = users ? ScalabilityFit.of(all) : Optional.empty();
            ladders.add(new LadderFigure.Ladder(mark.letter(), new Mark(mark.index()).awtColour(), all, fit));
            fits.put(candidate, fit);
        });
        words.setText(words(study, rounds, fits, _ -> Optional.empty()));
        if (users) {
            // hundreds of fits: beside the interface thread
            Thread.ofVirtual().start(() -> {
                String whole = words(study, rounds, fits, of -> ScalabilityFit.ceilingInterval(of, 1));
                Platform.runLater(() -> words.setText(whole));
            });
        }
        var figure = new Figure("throughput by level", LadderFigure.chart(theme, users
                ? "users"
                : "arrivals a second", ladders));
        VBox.setVgrow(figure, Priority.ALWAYS);
        return List.of(words, figure);
    }

    private static String words(Study study, Map<String, List<List<ScalabilityFit.Point>>> rounds,
            Map<String, Optional<ScalabilityFit>> fits,
            Function<List<List<ScalabilityFit.Point>>, Optional<double[]>> interval) {
        var sentences = new ArrayList<String>();
        rounds.forEach((candidate, of) -> sentences.add(
                new CandidateMark(study.indexOf(candidate)).letter() + ": " + sentence(
                        of.stream().flatMap(List::stream).toList(), fits.getOrDefault(candidate, Optional.empty()),
                        interval.apply(of))));
        return String.join("\n", sentences);
    }

    private static List<ScalabilityFit.Point> points(List<LevelResult> levels) {
        return levels.stream().filter(level -> level.figures().isPresent() && level.isSound())
                .map(level -> new ScalabilityFit.Point(level.level(), level.figures().get().throughput())).toList();
    }

    private static String sentence(List<ScalabilityFit.Point> points, Optional<ScalabilityFit> fit,
            Optional<double[]> interval) {
        double most = points.stream().mapToDouble(ScalabilityFit.Point::throughput).max().orElse(0);
        String seen = "at most " + Written.significant(most) + " calls/s were seen, which serve about "
                + Written.significant(most * SECONDS_A_MINUTE) + " users who call once a minute";
        if (fit.isEmpty()) {
            return seen + ".";
        }
        ScalabilityFit law = fit.get();
        var text = new StringBuilder(seen).append("; by the law ").append(Written.significant(law.gamma()))
                .append("/s for one user, ").append(Written.significant(law.alpha() * 100))
                .append(" % of the work stands in line");
        law.peakUsers().ifPresentOrElse(peak -> text.append(", the bend is at ").append(Written.significant(peak))
                .append(" users"), () -> text.append(", without a bend"));
        law.ceiling().ifPresent(ceiling -> text.append(", the ceiling ").append(Written.significant(ceiling))
                .append("/s"));
        interval.ifPresent(bounds -> text.append(" (").append(Written.significant(bounds[0])).append(" to ")
                .append(Written.significant(bounds[1])).append(" over the rounds)"));
        return text.append('.').toString();
    }
}
