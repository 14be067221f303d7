package kadrem.desk.compare;

import java.util.List;

import javafx.scene.Node;
import javafx.scene.control.Label;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.PairComparison;

/** The pairs of a metric call by call. */
final class CallsSide implements CompareSide {
    private java.util.Optional<PairTable> table = java.util.Optional.empty();
    private java.util.Optional<Looked> looked = java.util.Optional.empty();

    @Override
    public List<Node> show(Looked now) {
        looked = java.util.Optional.of(now);
        Metric metric = Comparison.OF_CALLS.contains(now.metric()) ? now.metric() : Metric.P95;
        List<PairComparison> pairs = now.comparison().byCall(metric);
        PairTable made = table.orElseGet(() -> table(now.study()));
        table = java.util.Optional.of(made);
        made.show(now.study(), pairs);
        var words = new Label((metric == now.metric()
                ? ""
                : "Runs have no " + now.metric().label()
                        + " by call; this is their " + metric.label() + ". ")
                + pairs.size()
                + " comparisons at once: p is adjusted by Holm over all of them, and a call that stands out should be"
                + " asked about in a study of its own. Choose a row to read why.");
        words.setWrapText(true);
        words.setId("calls-words");
        words.getStyleClass().add("muted");
        return List.of(words, made.view());
    }

    private PairTable table(Study study) {
        return new PairTable(study, true, pair -> looked.ifPresent(
                now -> now.why().accept(Explanation.of(now.comparison(), pair, now.state().floor()))));
    }
}
