package kadrem.desk.question;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.Consumer;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.scaling.Prediction;
import kadrem.core.study.Candidate;
import kadrem.core.study.Factor;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.NoiseFloor;
import kadrem.core.verdict.PlanCurve;
import kadrem.core.verdict.Planning;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.UndoButtons;
import kadrem.desk.chart.Figure;
import kadrem.figures.FigureTheme;
import kadrem.figures.PlanFigure;
import kadrem.desk.load.LoadForm;
import kadrem.desk.look.Later;
import kadrem.desk.look.Look;
import kadrem.desk.look.RowsEditor;
import kadrem.desk.why.WhyDrawer;
import kadrem.files.study.Edit;

/** What is to be decided and by what; beside it what the plan can show, and what that takes. */
public final class QuestionStation implements Station {
    private static final double LEFT_WIDTH = 470;
    private static final int MOST_ROUNDS = 1_000;

    private final Session session;
    private final Look look;
    private final Consumer<Explanation> why;
    private final VBox view = new VBox(10);
    private final TextField text = new TextField();
    private final ComboBox<String> baseline = new ComboBox<>();
    private final TextField significance = new TextField();
    private final RowsEditor deciders;
    private final RowsEditor requirements;
    private final RowsEditor factors;
    private final Label rejected = new Label();
    private final ComboBox<Metric> metric = new ComboBox<>();
    private final VBox shows = new VBox(6);
    private final VBox figurePlace = new VBox();
    private final TextField rounds = new TextField();
    private final CheckBox adaptive = new CheckBox("add rounds until all is settled, at most");
    private final TextField most = new TextField();
    private final Button advice = new Button();
    private final GridPane table = new GridPane();
    private boolean filling;
    private OptionalInt advised = OptionalInt.empty();
    private final Later<Key, PlanCurve> curves;

    private record Key(Planning plan, int most) {
    }

    public QuestionStation(Session session, Look look, Consumer<Explanation> why) {
        this.session = session;
        this.look = look;
        this.why = why;
        curves = new Later<>(() -> session.state().ifPresent(this::drawPlan));
        deciders = new RowsEditor("metrics that decide, the most important first", "deciders", List.of(
                new RowsEditor.Column("metric", 150, QuestionForm.metrics()),
                RowsEditor.Column.text("margin, as 10%", 116), RowsEditor.Column.text("weight", 80)),
                () -> edit(QuestionForm.decide(this.deciders().rows())));
        requirements = new RowsEditor("a candidate must meet", "requirements", List.of(
                new RowsEditor.Column("metric", 150, QuestionForm.metrics()),
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
        var columns = new HBox(24, left(), right());
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
                requirements.view(), factors.view(), scale, rejected);
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

    private Node right() {
        metric.setId("plan-metric");
        metric.setAccessibleText("metric of the plan");
        metric.setCellFactory(_ -> metricCell());
        metric.setButtonCell(metricCell());
        metric.valueProperty()
                .addListener((_, _, _) -> session.state().filter(_ -> !filling).ifPresent(this::drawPlan));
        var head = new HBox(12, label("What the plan can show", "section-heading"), metric);
        head.setAlignment(Pos.CENTER_LEFT);
        rounds.setId("plan-rounds");
        rounds.setAccessibleText("rounds of the plan");
        rounds.setPrefWidth(64);
        commits(rounds, () -> put("plan", "rounds", rounds.getText().strip()));
        most.setId("plan-most");
        most.setAccessibleText("most rounds of an adaptive plan");
        most.setPrefWidth(64);
        commits(most, this::adaptiveTyped);
        adaptive.setId("plan-adaptive");
        adaptive.setOnAction(_ -> {
            if (!filling) {
                adaptiveTyped();
            }
        });
        advice.setId("take-advice");
        advice.getStyleClass().add("accent");
        advice.setOnAction(_ -> advised.ifPresent(number -> put("plan", "rounds", Integer.toString(number))));
        var plan = new HBox(8, new Label("rounds"), rounds, advice);
        plan.setAlignment(Pos.CENTER_LEFT);
        var more = new HBox(8, adaptive, most);
        more.setAlignment(Pos.CENTER_LEFT);
        figurePlace.setMinHeight(200);
        figurePlace.setPrefHeight(250);
        VBox.setVgrow(figurePlace, Priority.ALWAYS);
        table.getStyleClass().add("level-grid");
        table.setId("plan-table");
        var below = new ScrollPane(new VBox(8, shows, table));
        below.getStyleClass().add("plain-scroll");
        below.setFitToWidth(true);
        below.setPrefHeight(250);
        var right = new VBox(8, head, plan, more, figurePlace, below);
        HBox.setHgrow(right, Priority.ALWAYS);
        right.setMinWidth(0);
        return right;
    }

    private static ListCell<Metric> metricCell() {
        return new ListCell<>() {
            @Override
            protected void updateItem(Metric item, boolean empty) {
                super.updateItem(item, empty);
                setText(empty || item == null ? "" : item.label());
            }
        };
    }

    private static Label label(String words, String style) {
        var label = new Label(words);
        label.setWrapText(true);
        label.setMinHeight(Region.USE_PREF_SIZE);
        label.getStyleClass().add(style);
        return label;
    }

    /** A field that is taken over with the key Enter, or when it is left. */
    private void commits(TextField field, Runnable commit) {
        field.setOnAction(_ -> commit.run());
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused && !filling) {
                commit.run();
            }
        });
    }

    private void put(String group, String field, String value) {
        edit(List.of(new Edit.Put(group, Map.of(field, Optional.of(value)))));
    }

    private void adaptiveTyped() {
        String number = most.getText().isBlank() ? "30" : most.getText().strip();
        edit(List.of(new Edit.Put("plan", Map.of("adaptive",
                adaptive.isSelected() ? Optional.of(Map.of("atMost", number)) : Optional.empty()))));
    }

    private void edit(List<Edit> edits) {
        rejected.setText("");
        session.edit(edits, reason -> {
            rejected.setText(reason + " The study keeps its last good state.");
            session.state().ifPresent(this::fill);
        });
    }

    @Override
    public String name() {
        return "Question";
    }

    @Override
    public Node view() {
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
        drawPlan(state);
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
        deciders.show(QuestionForm.deciders(question));
        requirements.show(LoadForm.requirements(question.requirements()));
        factors.show(QuestionForm.factors(question));
        setText(rounds, Integer.toString(state.study().plan().rounds()));
        adaptive.setSelected(state.study().plan().isAdaptive());
        if (state.study().plan().isAdaptive()) {
            setText(most, Integer.toString(state.study().plan().most()));
        } else if (most.getText().isBlank()) {
            most.setText("30");
        }
        most.setDisable(!state.study().plan().isAdaptive());
        List<Metric> metrics = question.deciders().stream().map(Question.Decider::metric).toList();
        if (!metric.getItems().equals(metrics)) {
            metric.setItems(FXCollections.observableArrayList(metrics));
        }
        if (!metrics.contains(metric.getValue()) && !metrics.isEmpty()) {
            metric.setValue(metrics.getFirst());
        }
        filling = false;
    }

    private static void setText(TextField field, String words) {
        if (!field.isFocused() && !field.getText().equals(words)) {
            field.setText(words);
        }
    }

    private void drawPlan(Session.State state) {
        Metric chosen = metric.getValue();
        if (chosen == null) {
            return;
        }
        Study study = state.study();
        Planning plan = Planning.of(study, chosen, state.comparison(), state.floor());
        int most = PlanFigure.most(study.plan().rounds());
        Optional<PlanCurve> worked = curves.of(new Key(plan, most), () -> PlanCurve.of(plan, most));
        if (worked.isEmpty()) {
            shows.getChildren().setAll(label(curves.problem().isEmpty()
                    ? "Working out what the plan can show …"
                    : "What the plan can show is not known: " + curves.problem(), "muted"));
            advice.setVisible(false);
            return;
        }
        PlanCurve curve = worked.get();
        figurePlace.getChildren().clear();
        var figure = new Figure("smallest difference settled against rounds",
                PlanFigure.chart(look.figures(), curve, study.plan().rounds()));
        VBox.setVgrow(figure, Priority.ALWAYS);
        figurePlace.getChildren().add(figure);
        shows.getChildren().clear();
        Button can = WhyDrawer.link(shows(study, curve), () -> Explanation.of(study, curve, study.plan().rounds()),
                why);
        can.setId("plan-shows");
        shows.getChildren().addAll(can,
                label("Scatter of the paired differences: " + plan.noise().words(chosen) + ".", "fact"));
        if (study.plan().rounds() < Planning.FEWEST_ROUNDS && !study.plan().isAdaptive()) {
            Label warning = label("Fewer than " + Planning.FEWEST_ROUNDS
                    + " rounds have no exact interval of 95 %: such a plan settles nothing, whatever is measured.",
                    "problem");
            warning.setId("too-few-rounds");
            shows.getChildren().add(warning);
        }
        Prediction.of(study, state.presentRehearsal()).weakPercentiles(study)
                .forEach(warning -> shows.getChildren().add(label(warning, "problem")));
        state.floor().ifPresentOrElse(floor -> {
            floor.floor(chosen)
                    .ifPresent(one -> shows.getChildren().add(label("Noise floor: a candidate differs from itself by up"
                            + " to " + NoiseFloor.words(chosen, one.size()) + ".", "fact")));
            floor.marginsBelow(study.question())
                    .forEach(sentence -> shows.getChildren().add(label(sentence, "problem")));
        }, () -> shows.getChildren()
                .add(label("No noise floor was measured; Measure does it: a candidate against itself.", "muted")));
        advised = curve.roundsForMargin();
        advice.setVisible(advised.isPresent() && advised.getAsInt() != study.plan().rounds());
        advice.setText(advised.isPresent() ? "Take " + advised.getAsInt() + ", for the margin" : "");
        fillTable(state, curve);
    }

    private static String shows(Study study, PlanCurve curve) {
        Planning plan = curve.plan();
        String size = curve.settles(study.plan().rounds()).stream()
                .mapToObj(one -> NoiseFloor.words(plan.metric(),
                        plan.metric().scale() == Metric.Scale.RATIO ? Math.expm1(one) : one))
                .findFirst().orElse("");
        String fixed = size.isEmpty()
                ? study.plan().rounds() + " rounds settle nothing: with " + plan.family()
                        + " things to be shown together it takes "
                        + plan.fewest()
                : study.plan().rounds() + " rounds settle a difference of " + size + ", four times in five";
        return study.plan().isAdaptive()
                ? "Rounds are added until every deciding pair is settled, at most " + study.plan().most()
                        + ", by a test that is valid at any stop and takes about twice as many: " + fixed
                : fixed;
    }

    /** Rounds, what they settle, and how long they take. */
    private void fillTable(Session.State state, PlanCurve curve) {
        Planning plan = curve.plan();
        table.getChildren().clear();
        List<String> heads = List.of("rounds", "settle, 4 times in 5", "and take");
        for (int i = 0; i < heads.size(); i++) {
            table.add(label(heads.get(i), "attribute"), i, 0);
        }
        Prediction prediction = Prediction.of(state.study(), state.presentRehearsal());
        double aRound = (double) prediction.wallTime().toSeconds() / Math.max(1, state.study().plan().rounds());
        int row = 1;
        for (int number : new int[]{plan.fewest(), 10, 15, 20, 30}) {
            if (number <= MOST_ROUNDS && (row == 1 || number > plan.fewest())) {
                String size = curve.settles(number).stream().mapToObj(one -> NoiseFloor.words(plan.metric(),
                        plan.metric().scale() == Metric.Scale.RATIO ? Math.expm1(one) : one)).findFirst().orElse("–");
                long minutes = Math.round(aRound * number / 60);
                table.addRow(row++, figure(Integer.toString(number)), figure(size),
                        figure(minutes < 120
                                ? minutes + " min"
                                : String.format(Locale.ROOT, "%.1f h", minutes / 60.0)));
            }
        }
    }

    private static Label figure(String words) {
        return label(words, "level-figure");
    }
}
