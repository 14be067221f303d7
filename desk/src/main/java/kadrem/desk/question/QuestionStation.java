package kadrem.desk.question;

import java.util.ArrayList;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.collections.FXCollections;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.core.study.Factor;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.Planning;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.UndoButtons;
import kadrem.desk.load.LoadForm;
import kadrem.desk.look.Look;
import kadrem.desk.look.RowsEditor;
import kadrem.files.study.Edit;

/** What is to be decided and by what; beside it what the plan can show, and what that takes. */
public final class QuestionStation implements Station {
    private static final double LEFT_WIDTH = 470;

    private final Session session;
    private final VBox view = new VBox(10);
    private final TextField text = new TextField();
    private final ComboBox<String> baseline = new ComboBox<>();
    private final TextField significance = new TextField();
    private final RowsEditor deciders;
    private final RowsEditor requirements;
    private final RowsEditor factors;
    private final Label rejected = new Label();
    private final PlanPane plan;
    private final PlaceForm place;
    /** Offered in new rows; those of crowds and calls follow the study. */
    private final List<String> metrics = new ArrayList<>(Metric.all().stream().map(Metric::id).toList());
    private boolean filling;

    public QuestionStation(Session session, Look look, Consumer<Explanation> why) {
        this.session = session;
        plan = new PlanPane(session, look, why, this::edit);
        place = new PlaceForm(session);
        deciders = new RowsEditor("metrics that decide, the most important first", "deciders", List.of(
                new RowsEditor.Column("metric", 150, metrics),
                RowsEditor.Column.text("margin, as 10%", 116), RowsEditor.Column.text("weight", 80)),
                () -> edit(QuestionForm.decide(this.deciders().rows())));
        requirements = new RowsEditor("a candidate must meet", "requirements", List.of(
                new RowsEditor.Column("metric", 150, metrics),
                RowsEditor.Column.text("limit, as 100ms or 1%", 0)),
                () -> edit(LoadForm.require(this.requirements().rows())));
        factors = new RowsEditor("judged, not measured", "factors", List.of(
                RowsEditor.Column.text("as operation, licence", 0), RowsEditor.Column.text("weight", 80)),
                () -> session.state().ifPresent(
                        state -> edit(QuestionForm.judge(state.study().question(), this.factors().rows()))));
        var heading = new Label("Question");
        heading.getStyleClass().add("station-heading");
        HBox.setHgrow(heading, Priority.ALWAYS);
        heading.setMaxWidth(Double.MAX_VALUE);
        var top = new HBox(8, heading);
        top.getChildren().addAll(UndoButtons.of(session));
        var columns = new HBox(24, left(), plan.view());
        VBox.setVgrow(columns, Priority.ALWAYS);
        view.getStyleClass().add("station");
        view.getChildren().addAll(top, columns);
    }

    private RowsEditor deciders() {
        return deciders;
    }

    private RowsEditor requirements() {
        return requirements;
    }

    private RowsEditor factors() {
        return factors;
    }

    private Node left() {
        text.setId("question-text");
        text.setAccessibleText("the decision in a sentence");
        text.setPromptText("Which implementation do we run next season?");
        commits(text, () -> put("question", "text", text.getText().strip()));
        baseline.setId("question-baseline");
        baseline.setAccessibleText("baseline");
        baseline.setOnAction(_ -> {
            if (!filling && baseline.getValue() != null) {
                put("question", "baseline", baseline.getValue());
            }
        });
        significance.setId("question-significance");
        significance.setAccessibleText("accepted chance of a false settled");
        significance.setPrefWidth(80);
        commits(significance, () -> put("question", "significance", significance.getText().strip()));
        var grid = new GridPane();
        grid.setHgap(10);
        grid.setVgap(6);
        grid.addRow(0, label("against the baseline", "attribute"), baseline);
        grid.addRow(1, label("accepted chance of a false \"settled\"", "attribute"), significance);
        rejected.setWrapText(true);
        rejected.getStyleClass().add("problem");
        rejected.setId("question-rejected");
        rejected.managedProperty().bind(rejected.textProperty().isNotEmpty());
        Label margins = label(
                "The margin is the smallest difference that would matter to you. Weights count where candidates"
                        + " trade one metric for another.",
                "muted");
        Label scale = label("Each candidate is judged in Verdict, with a reason: " + scale() + ".", "muted");
        var all = new VBox(9, label("What is to be decided", "section-heading"), text, grid, deciders.view(), margins,
                requirements.view(), factors.view(), scale, label("This study", "section-heading"), place.view(),
                rejected);
        var scroll = new ScrollPane(all);
        scroll.getStyleClass().add("plain-scroll");
        scroll.setFitToWidth(true);
        scroll.setMinWidth(LEFT_WIDTH);
        scroll.setPrefWidth(LEFT_WIDTH);
        scroll.setMaxWidth(LEFT_WIDTH);
        return scroll;
    }

    private static String scale() {
        var words = new ArrayList<String>();
        for (int i = 0; i < Factor.SCALE.size(); i++) {
            words.add(i + 1 + " " + Factor.SCALE.get(i));
        }
        return String.join(", ", words);
    }

    static Label label(String words, String style) {
        var label = new Label(words);
        label.setWrapText(true);
        label.setMinHeight(Region.USE_PREF_SIZE);
        label.getStyleClass().add(style);
        return label;
    }

    /** A field that is taken over with the key Enter, or when it is left. */
    static void commits(TextField field, Runnable commit) {
        field.setOnAction(_ -> commit.run());
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                commit.run();
            }
        });
    }

    private void put(String group, String field, String value) {
        if (filling) {
            return;
        }
        edit(List.of(new Edit.Put(group, Map.of(field, Optional.of(value)))));
    }

    private void edit(List<Edit> edits) {
        rejected.setText("");
        session.edit(edits, reason -> {
            rejected.setText(reason + " The study keeps its last good state.");
            session.state().ifPresent(this::show);
        });
    }

    @Override
    public String name() {
        return "Question";
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
        Question question = state.study().question();
        // one line of the spine
        String first = question.deciders().stream().map(one -> one.metric().id()).findFirst().orElse("nothing yet");
        return "decided by " + first
                + (question.deciders().size() > 1 ? " and " + (question.deciders().size() - 1) + " more" : "");
    }

    @Override
    public Progress progress(Session.State state) {
        Study study = state.study();
        boolean few = study.question().deciders().stream().anyMatch(one -> !study.plan().isAdaptive()
                && Planning.of(study, one.metric(), state.comparison(), state.floor()).fewest() > study.plan()
                        .rounds());
        return study.question().text().isBlank() || few ? Progress.NEEDS_YOU : Progress.DONE;
    }

    @Override
    public void show(Session.State state) {
        fill(state);
        plan.show(state);
        place.show(state);
    }

    private void fill(Session.State state) {
        filling = true;
        Question question = state.study().question();
        setText(text, question.text());
        List<String> ids = state.study().candidates().stream().map(Candidate::id).toList();
        if (!baseline.getItems().equals(ids)) {
            baseline.setItems(FXCollections.observableArrayList(ids));
        }
        baseline.setValue(question.baseline());
        setText(significance, QuestionForm.share(question.significance()));
        List<String> known = QuestionForm.metrics(state.study());
        if (!known.equals(metrics)) {
            metrics.clear();
            metrics.addAll(known);
            deciders.dropUnfinished();
            requirements.dropUnfinished();
        }
        deciders.show(QuestionForm.deciders(question));
        requirements.show(LoadForm.requirements(question.requirements()));
        factors.show(QuestionForm.factors(question));
        filling = false;
    }

    static void setText(TextField field, String words) {
        if (!field.isFocused() && !field.getText().equals(words)) {
            field.setText(words);
        }
    }
}
