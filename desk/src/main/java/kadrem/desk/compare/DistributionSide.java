package kadrem.desk.compare;

import java.util.List;
import java.util.Optional;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Metric;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.QuantileDifferences;
import kadrem.figures.DistributionFigure;
import kadrem.desk.look.Background;
import kadrem.desk.chart.Figure;
import kadrem.files.compare.Distributions;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The whole distributions of response times over all rounds, and how they differ from percentile to percentile. */
final class DistributionSide implements CompareSide {
    private static final Logger LOG = LoggerFactory.getLogger(DistributionSide.class);

    private final Runnable read;
    private Optional<Known> known = Optional.empty();
    private Optional<Comparison> reading = Optional.empty();
    private String problem = "";

    /** What was read for a comparison. */
    private record Known(Comparison comparison, Distributions distributions, List<QuantileDifferences> differences,
            String words) {
    }

    /** @param read told when what was looked for in the background is there */
    DistributionSide(Runnable read) {
        this.read = read;
    }

    @Override
    public List<Node> show(Looked looked) {
        if (looked.study() instanceof FigureStudy) {
            return List.of(words("Of figures that were measured elsewhere no distribution is known."));
        }
        Comparison comparison = looked.comparison();
        if (known.filter(one -> one.comparison().equals(comparison)).isEmpty()) {
            begin(looked);
            return List.of(words(problem.isEmpty() ? "Reading the latencies of all runs …" : problem));
        }
        Known there = known.get();
        double margin = looked.study().question().deciders().stream()
                .filter(one -> Comparison.OF_CALLS.contains(one.metric()))
                .mapToDouble(one -> one.margin().size()).findFirst().orElse(Metric.P50.usualMargin().size());
        var figures = new HBox(12);
        VBox.setVgrow(figures, Priority.ALWAYS);
        add(figures,
                new Figure("response time by percentile of each candidate", DistributionFigure.curves(looked.theme(),
                        looked.study(), there.distributions().byCandidate())));
        if (!there.differences().isEmpty()) {
            add(figures, new Figure("difference of response times by percentile", DistributionFigure.differences(
                    looked.theme(), looked.study(), there.differences(), margin)));
        }
        return List.of(figures,
                words("Left: the geometric mean of the rounds, the band from the lowest to the highest of them."
                        + " Right: the mean difference of the rounds, with a band that holds the whole curve at 95 %, beside the decision. The margin is shaded."
                        + " All calls together, " + Metric.P50.label() + " at half. " + there.words()));
    }

    private static void add(HBox figures, Figure figure) {
        HBox.setHgrow(figure, Priority.ALWAYS);
        figure.setPrefWidth(100);
        figures.getChildren().add(figure);
    }

    private static Label words(String text) {
        var label = new Label(text);
        label.setWrapText(true);
        label.setId("distribution-words");
        label.getStyleClass().add("muted");
        return label;
    }

    private void begin(Looked looked) {
        Comparison comparison = looked.comparison();
        if (reading.filter(comparison::equals).isPresent()) {
            return;
        }
        reading = Optional.of(comparison);
        problem = "";
        Background.AT_ONCE.run(() -> {
            Distributions all = Distributions.read(looked.state().file().folder(), comparison);
            List<QuantileDifferences> differences = all.differences(looked.study());
            return new Known(comparison, all, differences, all.words(looked.study(), differences));
        }, found -> take(comparison, Optional.of(found), ""), cause -> {
            LOG.warn("the latencies of the runs cannot be read", cause);
            take(comparison, Optional.empty(),
                    "The latencies of the runs cannot be read (" + cause.getMessage() + "); everything else stays.");
        });
    }

    private void take(Comparison of, Optional<Known> found, String why) {
        if (reading.filter(of::equals).isPresent()) {
            known = found;
            problem = why;
            read.run();
        }
    }
}
