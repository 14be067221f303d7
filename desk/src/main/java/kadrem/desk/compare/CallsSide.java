package kadrem.desk.compare;

import java.util.List;
import java.util.Optional;

import javafx.scene.Node;
import javafx.scene.control.Label;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.PairComparison;
import kadrem.desk.look.Later;

/** The pairs of a metric call by call. */
final class CallsSide implements CompareSide {
    private final Later<Key, List<PairComparison>> comparisons;
    private Optional<PairTable> table = Optional.empty();
    private Optional<Looked> looked = Optional.empty();

    /** Many calls of many candidates are thousands of comparisons. */
    private record Key(Comparison comparison, Metric metric) {
    }

    /** @param again told when the comparisons are there */
    CallsSide(Runnable again) {
        comparisons = new Later<>(again);
    }

    @Override
    public List<Node> show(Looked now) {
        looked = Optional.of(now);
        Metric metric = Comparison.OF_CALLS.contains(now.metric()) ? now.metric() : Metric.P95;
        Optional<List<PairComparison>> there = comparisons.of(new Key(now.comparison(), metric),
                () -> now.comparison().byCall(metric));
        if (there.isEmpty()) {
            return List.of(words(comparisons.problem().isEmpty()
                    ? "Comparing call by call …"
                    : "The calls cannot be compared (" + comparisons.problem() + ")."));
        }
        List<PairComparison> pairs = there.get();
        PairTable made = table.orElseGet(() -> table(now.study()));
        table = Optional.of(made);
        made.show(now.study(), pairs);
        return List.of(words((metric.equals(now.metric())
                ? ""
                : "Runs have no " + now.metric().label()
                        + " by call; this is their " + metric.label() + ". ")
                + pairs.size()
                + " comparisons at once: p is adjusted over all of them, and a call that stands out should be"
                + " asked about in a study of its own. Choose a row to read why."), made.view());
    }

    private static Label words(String text) {
        var words = new Label(text);
        words.setWrapText(true);
        words.setId("calls-words");
        words.getStyleClass().add("muted");
        return words;
    }

    private PairTable table(Study study) {
        return new PairTable(study, true, pair -> looked.ifPresent(
                now -> now.why().accept(Explanation.of(now.comparison(), pair, now.state().floor()))));
    }
}
