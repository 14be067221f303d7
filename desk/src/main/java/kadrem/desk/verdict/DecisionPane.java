package kadrem.desk.verdict;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.Verdict;
import kadrem.core.verdict.Wording;
import kadrem.desk.Session;
import kadrem.desk.chart.Figure;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.Look;
import kadrem.figures.IntervalsFigure;

/** The decision at first sight: who, by how much against the margin, and what each candidate fails. Interface thread only. */
final class DecisionPane {
    private static final double MARK = 9;
    private static final double ROW = 34;
    /** Axis, names and borders of the figure. */
    private static final double FRAME = 84;
    private static final int MAX_PAIRS = 6;

    private final Look look;
    private final HBox who = new HBox(10);
    private final VBox fails = new VBox(3);
    private final VBox figure = new VBox();
    private final VBox view;
    private Optional<List<Object>> drawn = Optional.empty();

    DecisionPane(Look look) {
        this.look = look;
        who.setAlignment(Pos.CENTER_LEFT);
        fails.setId("decision-fails");
        figure.setId("decision-figure");
        figure.managedProperty().bind(figure.visibleProperty());
        view = new VBox(6, who, fails, figure);
    }

    Node view() {
        return view;
    }

    void show(Session.State state) {
        Verdict verdict = state.verdict();
        Study study = state.study();
        who.getChildren().clear();
        for (String id : verdict.chosen()) {
            who.getChildren().add(new CandidateMark(study.indexOf(id)).marker(MARK));
        }
        var words = new Label(headline(state));
        words.setId("decision");
        words.setWrapText(true);
        words.getStyleClass().add("decision");
        who.getChildren().add(words);
        fails.getChildren().setAll(study.candidates().stream().flatMap(one -> fails(verdict, one).stream()).toList());
        List<PairComparison> pairs = pairs(verdict);
        List<Object> of = List.of(study, pairs, look.figures());
        if (drawn.filter(of::equals).isEmpty()) {
            drawn = Optional.of(of);
            draw(study, pairs);
        }
    }

    private static String headline(Session.State state) {
        Verdict verdict = state.verdict();
        String names = verdict.chosen().stream()
                .map(id -> state.study().candidate(id).map(Candidate::name).orElse(id))
                .collect(Collectors.joining(" or "));
        return switch (verdict.kind()) {
            case RECOMMENDED -> names;
            case EITHER -> "Either will do: " + names;
            case NONE_MEETS -> "None: each misses a requirement";
            case OPEN -> state.comparison().progress().isEarlyLook() ? "In progress" : "Not settled yet";
            case NOTHING -> "Nothing measured yet";
        };
    }

    private static List<Node> fails(Verdict verdict, Candidate candidate) {
        int index = verdict.comparison().study().indexOf(candidate.id());
        return verdict.requirements().stream()
                .filter(one -> one.candidate().equals(candidate.id())
                        && one.answer() == RequirementResult.Answer.MISSED)
                .<Node>map(one -> {
                    var words = new Label(candidate.name() + " misses " + RequirementResult.words(one.requirement()),
                            new CandidateMark(index).marker(5));
                    words.getStyleClass().add("problem");
                    return words;
                }).toList();
    }

    /** Those of the first deciding metric, with the answer first, of which the chosen one is part where there is one. */
    private static List<PairComparison> pairs(Verdict verdict) {
        Study study = verdict.comparison().study();
        return study.question().deciders().stream().map(decider -> Wording
                .answerFirst(study, verdict.comparison().on(decider.metric())).stream()
                .filter(pair -> pair.interval().isPresent())
                .filter(pair -> verdict.chosen().size() != 1 || verdict.chosen().contains(pair.candidate())
                        || verdict.chosen().contains(pair.baseline()))
                .limit(MAX_PAIRS).toList()).filter(pairs -> !pairs.isEmpty()).findFirst().orElse(List.of());
    }

    private void draw(Study study, List<PairComparison> pairs) {
        figure.setVisible(!pairs.isEmpty());
        figure.getChildren().clear();
        if (!pairs.isEmpty()) {
            var drawing = new Figure("interval of each pair against the margin",
                    IntervalsFigure.chart(look.figures(), study, pairs));
            drawing.setMinHeight(FRAME + ROW * pairs.size());
            drawing.setPrefHeight(FRAME + ROW * pairs.size());
            VBox.setVgrow(drawing, Priority.NEVER);
            figure.getChildren().add(drawing);
        }
    }
}
