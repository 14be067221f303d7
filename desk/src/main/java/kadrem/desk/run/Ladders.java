package kadrem.desk.run;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.measure.RunRecord;
import kadrem.core.scaling.LadderResult;
import kadrem.core.study.Study;
import kadrem.desk.look.Background;
import kadrem.desk.chart.Figure;
import kadrem.desk.look.CandidateMark;
import kadrem.figures.FigureTheme;
import kadrem.figures.LadderFigure;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Throughput against users or arrivals of ladders, with the scalability law where users wait for answers. */
public final class Ladders {
    private static final Logger LOG = LoggerFactory.getLogger(Ladders.class);

    private Ladders() {
    }

    /** The ladders of some runs as a figure with sentences; only sentences where they have one level of load. */
    public static List<Node> of(FigureTheme theme, Study study, List<RunRecord> runs) {
        List<LadderResult> ladders = LadderResult.of(study, runs);
        var words = new Label();
        words.setWrapText(true);
        words.setId("ladder-words");
        if (ladders.isEmpty()) {
            words.setText(
                    "These runs have one level of load. A ladder, chosen in the Load station, measures level after level;"
                            + " then throughput is set against users here, with the fitted law, its bend and its ceiling.");
            return List.of(words);
        }
        words.setText(words(study, ladders, _ -> Optional.empty()));
        if (LadderResult.isOfUsers(study)) {
            // a fit for each round of each candidate: beside the interface thread
            Background.AT_ONCE.run(() -> words(study, ladders, ladder -> ladder.ceilingInterval()), words::setText,
                    cause -> LOG.error("ceilings have no intervals", cause));
        }
        var figure = new Figure("throughput by level", LadderFigure.chart(theme, study, ladders));
        VBox.setVgrow(figure, Priority.ALWAYS);
        return List.of(words, figure);
    }

    private static String words(Study study, List<LadderResult> ladders,
            Function<LadderResult, Optional<double[]>> interval) {
        return ladders.stream().map(ladder -> new CandidateMark(study.indexOf(ladder.candidate())).letter() + ": "
                + ladder.sentence(interval.apply(ladder))).collect(Collectors.joining("\n"));
    }
}
