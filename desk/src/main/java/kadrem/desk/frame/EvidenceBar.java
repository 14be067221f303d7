package kadrem.desk.frame;

import java.util.List;
import java.util.Optional;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.scene.paint.Color;
import javafx.scene.shape.Line;
import javafx.scene.shape.Polygon;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Standing;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.core.verdict.Wording;
import kadrem.desk.Session;
import kadrem.desk.look.CandidateMark;

/** One dot a run by candidate (hollow while planned, crossed when it does not count) and where the decision stands. */
final class EvidenceBar {
    private static final int MAX_ROUNDS = 24;
    private static final double DOT = 15;
    private final VBox dots = new VBox(3);
    private final Label sentence = new Label();
    private final HBox bar = new HBox(dots, sentence);

    /** What the dots were made of; they are made anew only for something else. */
    private List<Object> shown = List.of();

    EvidenceBar() {
        bar.getStyleClass().add("evidence-bar");
        sentence.getStyleClass().add("evidence-sentence");
        sentence.setId("evidence-sentence");
        sentence.setWrapText(true);
        sentence.setMaxWidth(Double.MAX_VALUE);
        HBox.setHgrow(sentence, Priority.ALWAYS);
    }

    Node view() {
        return bar;
    }

    void show(Session.State state) {
        Study study = state.study();
        List<RunRecord> runs = state.presentRuns();
        List<Integer> aside = state.comparison().setAside().rounds();
        int rounds = Math.max(study.plan().rounds(), runs.stream().mapToInt(RunRecord::round).max().orElse(0));
        int first = Math.max(1, rounds - MAX_ROUNDS + 1);
        sentence.setText(Wording.standing(state.comparison()));
        List<Object> of = List.of(study.candidates().stream().map(one -> one.id() + "\n" + one.name()).toList(), rounds,
                runs, aside);
        if (of.equals(shown)) {
            return;
        }
        shown = of;
        dots.getChildren().clear();
        for (Candidate candidate : study.candidates()) {
            var mark = new CandidateMark(study.indexOf(candidate.id()));
            var row = new HBox(2);
            row.setAlignment(Pos.CENTER_LEFT);
            var letter = new Label(mark.letter());
            letter.getStyleClass().add("evidence-letter");
            row.getChildren().add(letter);
            for (int round = first; round <= rounds; round++) {
                int wanted = round;
                Optional<RunRecord> run = runs.stream()
                        .filter(one -> one.round() == wanted && one.candidate().equals(candidate.id()))
                        .max(java.util.Comparator.comparing(RunRecord::started));
                row.getChildren().add(dot(mark, round, candidate, run, aside.contains(round)));
            }
            dots.getChildren().add(row);
        }
        dots.setMinWidth(Region.USE_PREF_SIZE);
    }

    /** @param aside whether the round was set aside, for all candidates */
    private static Node dot(CandidateMark mark, int round, Candidate candidate, Optional<RunRecord> run,
            boolean aside) {
        Polygon marker = mark.marker(5);
        boolean counts = run.isPresent() && run.get().isResult() && !aside;
        if (!counts) {
            marker.setFill(Color.TRANSPARENT);
        }
        var pane = new StackPane(marker);
        // all of one width, so that a round is one column
        pane.setMinSize(DOT, DOT);
        pane.setMaxSize(DOT, DOT);
        pane.setPrefSize(DOT, DOT);
        boolean crossed = run.isPresent() && !counts && run.get().outcome() != RunOutcome.RUNNING;
        if (crossed) {
            var a = new Line(-5, -5, 5, 5);
            var b = new Line(-5, 5, 5, -5);
            a.getStyleClass().add("cross");
            b.getStyleClass().add("cross");
            pane.getChildren().addAll(a, b);
        }
        String what = run.map(one -> switch (one.standing()) {
            case Standing.Counted _ -> aside ? "its round is set aside for all" : "counted";
            case Standing.OfCandidate own -> own.words();
            case Standing.Disturbed _ -> "disturbed, the round is set aside";
            case Standing.NotMade(String words) -> words;
        }).orElse("planned");
        Tooltip.install(pane, new Tooltip("round " + round + ", " + candidate.name() + ": " + what));
        pane.setAccessibleText("round " + round + ", " + candidate.name() + ": " + what);
        return pane;
    }
}
