package kadrem.desk.measure;

import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.function.Supplier;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.Region;
import javafx.scene.paint.Color;
import javafx.scene.shape.Polygon;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Standing;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.core.study.Written;
import kadrem.desk.Session;
import kadrem.desk.look.CandidateMark;

/** Rounds down, candidates across: what has been measured, what came of it, what is still planned. */
final class RoundGrid {
    private final GridPane grid = new GridPane();
    private final Consumer<RunRecord> chosen;
    /** What each place shows now: only what has changed is made anew, since a study may have hundreds of cells. */
    private final Map<Place, Shown> shown = new HashMap<>();

    private record Place(int column, int row) {
    }

    /** @param content by which an unchanged node is recognised */
    private record Shown(Object content, Node node) {
    }

    /** All that a cell's look depends on. */
    private record CellContent(int candidate, Optional<RunRecord> run, boolean now, boolean selected,
            boolean takenIn, boolean setAside) {
        /** Whether the run is left out of comparisons, itself or with its round. */
        boolean isCrossed() {
            return run.filter(one -> setAside || !one.isResult() && !takenIn).isPresent();
        }
    }

    RoundGrid(Consumer<RunRecord> chosen) {
        this.chosen = chosen;
        grid.getStyleClass().add("round-grid");
    }

    Node view() {
        return grid;
    }

    /** The last run of a candidate in a round under the present workload and load. */
    private static Optional<RunRecord> runOf(List<RunRecord> runs, int round, String candidate) {
        return runs.stream().filter(run -> run.round() == round && run.candidate().equals(candidate))
                .max(Comparator.comparing(RunRecord::started));
    }

    void show(Session.State state, List<RunRecord> running, Optional<String> selected) {
        Study study = state.study();
        List<RunRecord> runs = state.presentRuns();
        int measured = runs.stream().mapToInt(RunRecord::round).max().orElse(0);
        int rounds = Math.max(Math.max(study.plan().rounds(), measured),
                running.stream().mapToInt(RunRecord::round).max().orElse(0));
        List<Candidate> candidates = study.candidates();
        List<Integer> aside = state.comparison().setAside().rounds();
        List<Integer> waiting = state.comparison().waitingRounds();
        forgetBeyond(candidates.size(), rounds);
        for (int i = 0; i < candidates.size(); i++) {
            int candidate = i;
            put(i + 1, 0, candidates.get(i).name(), () -> head(candidate, candidates.get(candidate).name()));
        }
        for (int round = 1; round <= rounds; round++) {
            String name = "round " + round;
            int wanted = round;
            String mark = aside.contains(round)
                    ? " is set aside for all candidates; another was added"
                    : waiting.contains(round) ? " waits for the next look at the study" : "";
            put(0, round, name + mark,
                    () -> roundName(name, aside.contains(wanted) ? " ✕" : mark.isEmpty() ? "" : " waits", mark));
            for (int i = 0; i < candidates.size(); i++) {
                Optional<RunRecord> run = runOf(runs, round, candidates.get(i).id());
                String id = candidates.get(i).id();
                boolean now = running.stream().anyMatch(one -> one.round() == wanted && one.candidate().equals(id));
                boolean chosenNow = run.map(RunRecord::id).filter(one -> selected.filter(one::equals).isPresent())
                        .isPresent();
                boolean takenIn = run.filter(one -> study.judgement().reason(one.id()).isPresent()).isPresent();
                var content = new CellContent(i, run, now, chosenNow, takenIn, aside.contains(round));
                put(i + 1, round, content, () -> cell(content));
            }
        }
    }

    private void put(int column, int row, Object content, Supplier<Node> make) {
        var place = new Place(column, row);
        Shown before = shown.get(place);
        if (before != null && before.content().equals(content)) {
            return;
        }
        if (before != null) {
            grid.getChildren().remove(before.node());
        }
        Node node = make.get();
        shown.put(place, new Shown(content, node));
        grid.add(node, column, row);
    }

    private void forgetBeyond(int candidates, int rounds) {
        shown.entrySet().removeIf(entry -> {
            boolean gone = entry.getKey().column() > candidates || entry.getKey().row() > rounds;
            if (gone) {
                grid.getChildren().remove(entry.getValue().node());
            }
            return gone;
        });
    }

    private static Node head(int candidate, String name) {
        var head = new Label(new CandidateMark(candidate).letter(), new CandidateMark(candidate).marker(5));
        head.getStyleClass().add("grid-head");
        head.setTooltip(new Tooltip(name));
        return head;
    }

    /** @param why words behind the name for the mark that the round has; empty where it has none */
    private static Node roundName(String name, String mark, String why) {
        var label = new Label(name + mark);
        label.getStyleClass().add("attribute");
        label.setMinWidth(Region.USE_PREF_SIZE);
        if (!why.isEmpty()) {
            label.setTooltip(new Tooltip(name + why));
            label.setAccessibleText(name + why);
        }
        return label;
    }

    private Node cell(CellContent content) {
        var mark = new CandidateMark(content.candidate());
        Optional<RunRecord> run = content.run();
        Polygon marker = mark.marker(5);
        String text;
        String tip;
        if (content.now()) {
            marker.setFill(Color.TRANSPARENT);
            text = "now";
            tip = "being measured";
        } else if (run.isEmpty()) {
            marker.setFill(Color.TRANSPARENT);
            text = "";
            tip = "planned";
        } else {
            String words = text(run.get());
            // a figure that does not count has room for its value only
            text = content.isCrossed()
                    ? "✕ " + words.replaceFirst("^p99 ", "")
                    : (run.get().isResult() ? "" : "+ ") + words;
            tip = tip(run.get()) + (content.takenIn() ? " (taken in by hand)" : "")
                    + (content.setAside() && run.get().isResult() ? "; its round is set aside" : "");
            if (content.isCrossed()) {
                marker.setFill(Color.TRANSPARENT);
            }
        }
        var button = new Button(text, marker);
        button.setMnemonicParsing(false);
        button.getStyleClass().add("run-cell");
        button.setTooltip(new Tooltip(tip));
        button.setAccessibleText(text + ", " + tip);
        button.setDisable(run.isEmpty());
        run.ifPresent(one -> {
            button.setId("run-" + one.round() + "-" + one.candidate());
            button.setOnAction(_ -> chosen.accept(one));
            if (content.selected()) {
                button.getStyleClass().add("run-selected");
            }
            if (content.isCrossed()) {
                button.getStyleClass().add("run-crossed");
            }
        });
        return button;
    }

    private static String text(RunRecord run) {
        if (run.outcome() == RunOutcome.COMPLETE && run.figures().isPresent()) {
            RunFigures figures = run.figures().get();
            return run.levels().isEmpty()
                    ? "p99 " + Written.duration(figures.response().p99())
                    : Written.significant(figures.throughput()) + "/s";
        }
        return run.outcome().id();
    }

    private static String tip(RunRecord run) {
        return switch (run.standing()) {
            case Standing.Counted _ -> "counted" + run.soundness().stream().filter(finding -> !finding.ok())
                    .map(finding -> "; " + finding.sentence()).collect(Collectors.joining());
            case Standing.OfCandidate own -> own.words() + "; it counts as worse than any figure";
            case Standing.Disturbed disturbed -> "disturbed, so that the round is set aside: " + disturbed.words();
            case Standing.NotMade(String words) -> words + "; it is to be made again";
        };
    }
}
