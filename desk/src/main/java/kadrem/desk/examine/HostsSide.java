package kadrem.desk.examine;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

import javafx.collections.FXCollections;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.examine.Demand;
import kadrem.core.examine.Moved;
import kadrem.core.measure.HostSeries;
import kadrem.core.measure.WatchedSource;
import kadrem.core.study.Written;
import kadrem.figures.CourseFigure;
import kadrem.desk.run.SourceMarks;

/**
 * What the load moved: all host series by how far they left their rest, with what they have to do with the response time, what
 * would run out first, and the chosen series over time.
 */
final class HostsSide implements ExamineSide {
    private final MovedTable table;
    private final Label words = new Label();
    private final FlowPane sources = new FlowPane(6, 4);
    private final VBox figures = new VBox(8);
    private final SplitPane split;
    private Optional<Looked> last = Optional.empty();

    HostsSide() {
        table = new MovedTable(() -> last.ifPresent(this::draw));
        words.setWrapText(true);
        words.setMinHeight(javafx.scene.layout.Region.USE_PREF_SIZE);
        words.setId("moved-words");
        sources.setId("watched-sources");
        VBox.setVgrow(figures, Priority.ALWAYS);
        split = new SplitPane(table.view(), figures);
        split.setOrientation(javafx.geometry.Orientation.VERTICAL);
        split.setDividerPositions(0.5);
        VBox.setVgrow(split, Priority.ALWAYS);
    }

    @Override
    public List<Node> show(Looked now) {
        last = Optional.of(now);
        Map<Examined, List<Moved>> moved = new LinkedHashMap<>();
        now.runs().forEach(run -> moved.put(run, run.moved()));
        words.setText(words(now, moved));
        var rows = new ArrayList<MovedTable.Row>();
        moved.forEach((run, list) -> list.forEach(one -> rows.add(new MovedTable.Row(run, one))));
        rows.sort(Comparator.comparing(MovedTable.Row::moved, Moved.FURTHEST_FIRST));
        table.show(FXCollections.observableArrayList(rows), now.theme());
        draw(now);
        sources.getChildren().setAll(now.runs().stream()
                .flatMap(run -> SourceMarks.of(run.name(), run.watch()).stream()).toList());
        return sources.getChildren().isEmpty() ? List.of(words, split) : List.of(sources, words, split);
    }

    /** The table's chosen series over time; until one is chosen, the one that moved furthest. */
    private void draw(Looked looked) {
        List<Drawable> all = Drawable.ofHosts(looked.runs());
        if (all.isEmpty()) {
            figures.getChildren().clear();
            return;
        }
        Drawable chosen = table.chosen().map(HostSeries.class::cast).map(Drawable::of)
                .orElse(all.getFirst());
        figures.getChildren().setAll(CourseSide.course(looked, looked.runs(), chosen, CourseFigure.Style.lines(true)));
    }

    private static String words(Looked looked, Map<Examined, List<Moved>> moved) {
        if (moved.values().stream().allMatch(List::isEmpty)) {
            return "These runs have no idle stretch before the load to compare with: it is watched since plan.idle is there."
                    + " The figure shows what was sampled.";
        }
        String costs = moved.keySet().stream().filter(run -> !run.run().watch().isEmpty())
                .map(run -> String.format(Locale.ROOT, "%.0f", run.run().watch().stream()
                        .mapToDouble(WatchedSource::cpuMillis).sum() / Math.max(1, looked.end())))
                .collect(Collectors.joining(", "));
        return moved.entrySet().stream().map(entry -> sentence(looked, entry.getKey(), entry.getValue()))
                .collect(Collectors.joining("\n"))
                + (moved.values().stream().flatMap(List::stream).allMatch(Moved::isScored)
                        ? ""
                        : "\nWhere fewer than " + Moved.MIN_IDLE
                                + " readings tell of the rest it is not said how far a series"
                                + " left it; an idle stretch of 3 s has enough.")
                + "\nOf what was watched: locks and pools are not seen, and may run out before."
                + (costs.isEmpty() ? "" : " To watch cost Kadrem " + costs + " ms of processor time a second.");
    }

    private static String sentence(Looked looked, Examined run, List<Moved> moved) {
        double throughput = run.view().throughput();
        var text = new StringBuilder(run.name()).append(": ");
        List<Demand> demands = Demand.of(moved, throughput, run.run().identity().cores(looked.state().study()),
                hostCores(run));
        if (demands.isEmpty()) {
            text.append("the load takes next to nothing of any resource whose end is known");
        } else {
            Demand first = demands.getFirst();
            text.append(String.format(Locale.ROOT,
                    "%s would run out first, at about %s calls/s: a call keeps it busy for %s, %.0f %% are in use at %s/s",
                    first.series().words(), Written.significant(first.saturation()),
                    Written.duration(first.demandSeconds() * 1e9), first.used() * 100,
                    Written.significant(throughput)));
        }
        moved.stream().filter(one -> one.departs() || !one.isScored()).filter(Moved::goesWithLatency).findFirst()
                .ifPresent(one -> text.append("; ").append(one.series().words()).append(' ')
                        .append(one.associationWords()));
        text.append('.');
        List<WatchedSource> watch = run.run().watch();
        if (!watch.isEmpty()) {

            watch.stream().filter(one -> !one.troubles().isEmpty()).forEach(one -> text.append(' ').append(one.name())
                    .append(" told nothing at times: ").append(one.troubles().getFirst().reason()).append('.'));
            watch.stream().filter(one -> one.clockOffset().isPresent()).forEach(one -> text.append(String.format(
                    Locale.ROOT, " The clock of %s was %+.3f s off, give or take %.3f s.", one.name(),
                    one.clockOffset().getAsDouble(), one.clockError().orElse(0))));
        }
        return text.toString();
    }

    private static double hostCores(Examined run) {
        return run.run().identity().processors();
    }
}
