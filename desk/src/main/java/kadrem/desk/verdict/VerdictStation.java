package kadrem.desk.verdict;

import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.core.study.Requirement;
import kadrem.core.study.Study;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.SittingTable;
import kadrem.core.verdict.Verdict;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.UndoButtons;
import kadrem.desk.export.ExportDialog;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.Look;
import kadrem.figures.FigureTheme;
import kadrem.desk.why.WhyDrawer;
import kadrem.files.study.Edit;

/** Requirements met, missed or not shown; weights to move, with the ranking and its certainty; the recommendation in words. */
public final class VerdictStation implements Station {

    /** A line that is longer is hard to follow back. */
    private static final double READABLE = 1_000;

    private final Session session;
    private final Consumer<Explanation> why;
    private final VBox view = new VBox(10);
    private final Label paragraph = new Label();
    private final GridPane requirements = new GridPane();
    private final Look look;
    private final DecisionPane decision;
    private final RankingPane ranking;
    private final JudgedPane judged;
    private final VBox notShown = new VBox(4);
    private final Label rejected = new Label();
    private final GridPane sittings = new GridPane();
    private final VBox bySitting = new VBox(8);
    private Optional<Session.State> shown = Optional.empty();
    private FigureTheme drawnIn;

    public VerdictStation(Session session, Look look, Consumer<Explanation> why) {
        this.look = look;
        drawnIn = look.figures();
        decision = new DecisionPane(look);
        this.session = session;
        this.why = why;
        ranking = new RankingPane(why, this::edit);
        judged = new JudgedPane(this::edit, rejected::setText);
        var heading = new Label("Verdict");
        heading.getStyleClass().add("station-heading");
        HBox.setHgrow(heading, Priority.ALWAYS);
        heading.setMaxWidth(Double.MAX_VALUE);
        var top = new HBox(8, heading);
        top.getChildren().addAll(UndoButtons.of(session));
        var export = new Button("Export…");
        export.setId("export");
        export.getStyleClass().add("accent");
        export.setMinWidth(Region.USE_PREF_SIZE);
        export.setOnAction(_ -> shown
                .ifPresent(state -> ExportDialog.open(state.file(), view.getScene().getWindow())));
        top.getChildren().add(export);
        paragraph.setId("verdict-paragraph");
        paragraph.setWrapText(true);
        paragraph.setMinHeight(Region.USE_PREF_SIZE);
        paragraph.setMaxWidth(READABLE);
        paragraph.getStyleClass().add("verdict-paragraph");
        sittings.getStyleClass().add("verdict-grid");
        sittings.setId("sittings");
        bySitting.getChildren().addAll(heading("Sittings side by side"), sittings);
        bySitting.managedProperty().bind(bySitting.visibleProperty());
        requirements.getStyleClass().add("verdict-grid");
        requirements.setId("requirements-grid");
        notShown.setId("not-shown");
        rejected.setWrapText(true);
        rejected.getStyleClass().add("problem");
        rejected.managedProperty().bind(rejected.textProperty().isNotEmpty());
        var left = new VBox(8, heading("Requirements"), requirements, heading("What counts"), ranking.weights(),
                judged.view(),
                rejected);
        var right = new VBox(8, heading("Ranking under these weights"), ranking.places(), heading("Not shown"),
                notShown);
        left.setPrefWidth(500);
        right.setPrefWidth(500);
        left.setMinWidth(0);
        right.setMinWidth(0);
        HBox.setHgrow(left, Priority.ALWAYS);
        HBox.setHgrow(right, Priority.ALWAYS);
        var all = new VBox(12, decision.view(), paragraph, bySitting, new HBox(28, left, right));
        var scroll = new ScrollPane(all);
        scroll.getStyleClass().add("plain-scroll");
        scroll.setFitToWidth(true);
        VBox.setVgrow(scroll, Priority.ALWAYS);
        view.getStyleClass().add("station");
        view.getChildren().addAll(top, scroll);
    }

    private static Label heading(String text) {
        var label = new Label(text);
        label.getStyleClass().add("section-heading");
        return label;
    }

    static Label words(String text, String style) {
        var label = new Label(text);
        label.setWrapText(true);
        label.setMinHeight(Region.USE_PREF_SIZE);
        label.getStyleClass().add(style);
        return label;
    }

    @Override
    public String name() {
        return "Verdict";
    }

    @Override
    public Parent view() {
        return view;
    }

    @Override
    public boolean needsLoad() {
        return false;
    }

    @Override
    public String summary(Session.State state) {
        Verdict verdict = state.verdict();
        return switch (verdict.kind()) {
            case NOTHING -> "nothing measured yet";
            case NONE_MEETS -> "none can be recommended";
            case OPEN -> state.comparison().progress().isEarlyLook() ? "in progress" : "not settled yet";
            case EITHER -> "either will do";
            case RECOMMENDED -> letter(state.study(), verdict.chosen().getFirst()) + " is recommended";
        };
    }

    private static String letter(Study study, String id) {
        return new CandidateMark(study.indexOf(id)).letter();
    }

    @Override
    public Progress progress(Session.State state) {
        return switch (state.verdict().kind()) {
            case NOTHING -> Progress.EMPTY;
            case OPEN -> Progress.IN_WORK;
            case NONE_MEETS, EITHER, RECOMMENDED -> Progress.DONE;
        };
    }

    @Override
    public void show(Session.State state) {
        if (shown.filter(before -> before == state).isPresent() && drawnIn.equals(look.figures())) {
            return;
        }
        shown = Optional.of(state);
        drawnIn = look.figures();
        Verdict verdict = state.verdict();
        decision.show(state);
        paragraph.setText(verdict.paragraph());
        fillSittings(verdict);
        fillRequirements(state.study(), verdict);
        ranking.show(state);
        judged.show(state.study());
        notShown.getChildren()
                .setAll(verdict.notShown().stream().map(one -> (Node) words("• " + one, "fact")).toList());
        if (verdict.notShown().isEmpty()) {
            notShown.getChildren().add(words("Nothing that was asked for.", "muted"));
        }
    }

    private void fillSittings(Verdict verdict) {
        SittingTable table = SittingTable.of(verdict.comparison());
        sittings.getChildren().clear();
        bySitting.setVisible(table.hasSeveral());
        for (int i = 0; i < table.sittings().size(); i++) {
            sittings.add(words(table.sittings().get(i), "attribute"), i + 1, 0);
        }
        for (int i = 0; i < table.rows().size(); i++) {
            SittingTable.Row row = table.rows().get(i);
            sittings.add(WhyDrawer.link(row.words(),
                    () -> Explanation.of(verdict.comparison(), row.pair(), shown.flatMap(Session.State::floor)), why),
                    0,
                    i + 1);
            for (int c = 0; c < row.cells().size(); c++) {
                sittings.add(words(row.cells().get(c), "fact"), c + 1, i + 1);
            }
        }
    }

    private void fillRequirements(Study study, Verdict verdict) {
        requirements.getChildren().clear();
        if (study.question().requirements().isEmpty()) {
            requirements.add(words("None was set. Question has them: a limit that a candidate must meet.", "muted"), 0,
                    0);
            return;
        }
        for (int c = 0; c < study.candidates().size(); c++) {
            Candidate candidate = study.candidates().get(c);
            var head = new Label(new CandidateMark(c).letter(), new CandidateMark(c).marker(5));
            head.setAccessibleText(candidate.name());
            requirements.add(head, c + 1, 0);
        }
        int row = 1;
        for (Requirement requirement : study.question().requirements()) {
            requirements.add(words(RequirementResult.words(requirement), "fact"), 0, row);
            for (int c = 0; c < study.candidates().size(); c++) {
                String id = study.candidates().get(c).id();
                int place = c;
                int line = row;
                verdict.requirements().stream()
                        .filter(one -> one.candidate().equals(id) && one.requirement().equals(requirement)).findFirst()
                        .ifPresent(one -> {
                            Button cell = WhyDrawer.link(mark(one.answer()) + " " + one.answer().words(),
                                    () -> Explanation.of(study, one), why);
                            cell.setMinWidth(Region.USE_PREF_SIZE);
                            cell.setId("requirement-" + requirement.metric().id() + "-" + id);
                            cell.getStyleClass()
                                    .add(one.answer() == RequirementResult.Answer.MISSED ? "problem" : "fact");
                            requirements.add(cell, place + 1, line);
                        });
            }
            row++;
        }
    }

    private static String mark(RequirementResult.Answer answer) {
        return switch (answer) {
            case MET -> "✓";
            case MISSED -> "✕";
            case NOT_SHOWN -> "?";
        };
    }

    private void edit(List<Edit> edits) {
        rejected.setText("");
        session.edit(edits, reason -> rejected.setText(reason + " The study keeps its last good state."));
    }
}
