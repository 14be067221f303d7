package kadrem.desk.measure;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import javafx.scene.paint.Color;
import javafx.scene.shape.Polygon;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Soundness;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.core.verdict.Wording;
import kadrem.desk.Session;
import kadrem.desk.look.CandidateMark;

/** Rounds down, candidates across: what has been measured, what came of it, what is still planned. */
final class RoundGrid {
    private final GridPane grid = new GridPane();
    private final Consumer<RunRecord> chosen;

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

    void show(Session.State state, Optional<RunRecord> running, Optional<String> selected) {
        Study study = state.study();
        List<RunRecord> runs = state.presentRuns();
        int measured = runs.stream().mapToInt(RunRecord::round).max().orElse(0);
        int rounds = Math.max(Math.max(study.plan().rounds(), measured), running.map(RunRecord::round).orElse(0));
        grid.getChildren().clear();
        List<Candidate> candidates = study.candidates();
        for (int i = 0; i < candidates.size(); i++) {
            var head = new Label(new CandidateMark(i).letter(), new CandidateMark(i).marker(5));
            head.getStyleClass().add("grid-head");
            head.setTooltip(new Tooltip(candidates.get(i).name()));
            grid.add(head, i + 1, 0);
        }
        for (int round = 1; round <= rounds; round++) {
            var name = new Label("round " + round);
            name.getStyleClass().add("attribute");
            grid.add(name, 0, round);
            for (int i = 0; i < candidates.size(); i++) {
                Optional<RunRecord> run = runOf(runs, round, candidates.get(i).id());
                int wanted = round;
                String id = candidates.get(i).id();
                boolean now = running.filter(one -> one.round() == wanted && one.candidate().equals(id)).isPresent();
                grid.add(cell(new CandidateMark(i), run, now, selected), i + 1, round);
            }
        }
    }

    private Node cell(CandidateMark mark, Optional<RunRecord> run, boolean now, Optional<String> selected) {
        Polygon marker = mark.marker(5);
        String text;
        String tip;
        if (now) {
            marker.setFill(Color.TRANSPARENT);
            text = "now";
            tip = "being measured";
        } else if (run.isEmpty()) {
            marker.setFill(Color.TRANSPARENT);
            text = "";
            tip = "planned";
        } else {
            text = text(run.get());
            tip = tip(run.get());
            if (!run.get().isComparable()) {
                marker.setFill(Color.TRANSPARENT);
            }
        }
        var button = new Button(text, marker);
        button.getStyleClass().add("run-cell");
        button.setTooltip(new Tooltip(tip));
        button.setAccessibleText(text + ", " + tip);
        button.setDisable(run.isEmpty());
        run.ifPresent(one -> {
            button.setId("run-" + one.round() + "-" + one.candidate());
            button.setOnAction(_ -> chosen.accept(one));
            if (selected.filter(one.id()::equals).isPresent()) {
                button.getStyleClass().add("run-selected");
            }
            if (!one.isComparable()) {
                button.getStyleClass().add("run-crossed");
            }
        });
        return button;
    }

    private static String text(RunRecord run) {
        if (run.outcome() == RunOutcome.COMPLETE && run.figures().isPresent()) {
            RunFigures figures = run.figures().get();
            return (run.isSound() ? "" : "✕ ") + "p99 " + Wording.duration(figures.response().p99());
        }
        return "✕ " + run.outcome().id();
    }

    private static String tip(RunRecord run) {
        if (run.outcome() == RunOutcome.COMPLETE) {
            return run.isSound()
                    ? "complete and sound"
                    : "unsound: " + String.join("; ", run.soundness().stream().filter(finding -> !finding.ok())
                            .map(Soundness.Finding::sentence).toList());
        }
        return run.reason();
    }
}
