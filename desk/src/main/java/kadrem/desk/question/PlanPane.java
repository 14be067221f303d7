package kadrem.desk.question;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.function.Consumer;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
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
import javafx.scene.layout.VBox;
import kadrem.desk.look.Look;
import kadrem.core.scaling.Prediction;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.PlanCurve;
import kadrem.core.verdict.Planning;
import kadrem.desk.Session;
import kadrem.desk.chart.Figure;
import kadrem.desk.look.Later;
import kadrem.desk.why.WhyDrawer;
import kadrem.figures.PlanFigure;
import kadrem.files.study.Edit;

/** What the plan can show: rounds, the smallest difference that they settle, and how long they take. */
final class PlanPane {
    private static final int MAX_ROUNDS = 1_000;

    private final Session session;
    private final Look look;
    private final Consumer<Explanation> why;
    private final Consumer<List<Edit>> edit;
    private final ComboBox<Metric> metric = new ComboBox<>();
    private final VBox shows = new VBox(6);
    private final VBox figurePlace = new VBox();
    private final TextField rounds = new TextField();
    private final CheckBox adaptive = new CheckBox("add rounds until all is settled, at most");
    private final TextField most = new TextField();
    private final Button advice = new Button();
    private final GridPane table = new GridPane();
    private final Later<Key, PlanCurve> curves;
    private final VBox view;
    private boolean filling;
    private OptionalInt advised = OptionalInt.empty();

    private record Key(Planning plan, int most) {
    }

    /** @param edit changes the study */
    PlanPane(Session session, Look look, Consumer<Explanation> why, Consumer<List<Edit>> edit) {
        this.session = session;
        this.look = look;
        this.why = why;
        this.edit = edit;
        curves = new Later<>(() -> session.state().ifPresent(this::draw));
        view = made();
    }

    VBox view() {
        return view;
    }

    private VBox made() {
        metric.setId("plan-metric");
        metric.setAccessibleText("metric of the plan");
        metric.setCellFactory(_ -> metricCell());
        metric.setButtonCell(metricCell());
        metric.valueProperty()
                .addListener((_, _, _) -> session.state().filter(_ -> !filling).ifPresent(this::draw));
        var head = new HBox(12, label("What the plan can show", "section-heading"), metric);
        head.setAlignment(Pos.CENTER_LEFT);
        rounds.setId("plan-rounds");
        rounds.setAccessibleText("rounds of the plan");
        rounds.setPrefWidth(64);
        commits(rounds, () -> put("rounds", rounds.getText().strip()));
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
        advice.setOnAction(_ -> advised.ifPresent(number -> put("rounds", Integer.toString(number))));
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
        return QuestionStation.label(words, style);
    }

    private void commits(TextField field, Runnable commit) {
        QuestionStation.commits(field, () -> {
            if (!filling) {
                commit.run();
            }
        });
    }

    private void put(String field, String value) {
        edit.accept(List.of(new Edit.Put("plan", Map.of(field, Optional.of(value)))));
    }

    private void adaptiveTyped() {
        String number = most.getText().isBlank() ? "30" : most.getText().strip();
        edit.accept(List.of(new Edit.Put("plan", Map.of("adaptive",
                adaptive.isSelected() ? Optional.of(Map.of("atMost", number)) : Optional.empty()))));
    }

    void show(Session.State state) {
        filling = true;
        fill(state);
        filling = false;
        draw(state);
    }

    private void fill(Session.State state) {
        Question question = state.study().question();
        QuestionStation.setText(rounds, Integer.toString(state.study().plan().rounds()));
        adaptive.setSelected(state.study().plan().isAdaptive());
        if (state.study().plan().isAdaptive()) {
            QuestionStation.setText(most, Integer.toString(state.study().plan().most()));
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
    }

    private void draw(Session.State state) {
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
        if (study.plan().rounds() < Planning.MIN_ROUNDS && !study.plan().isAdaptive()) {
            Label warning = label("Fewer than " + Planning.MIN_ROUNDS
                    + " rounds have no exact interval of 95 %: such a plan settles nothing, whatever is measured.",
                    "problem");
            warning.setId("too-few-rounds");
            shows.getChildren().add(warning);
        }
        study.measured().ifPresent(one -> Prediction.of(one, state.presentRehearsal()).weakPercentiles(one)
                .forEach(warning -> shows.getChildren().add(label(warning, "problem"))));
        state.floor().ifPresentOrElse(floor -> {
            floor.floor(chosen)
                    .ifPresent(one -> shows.getChildren().add(label("Noise floor: a candidate differs from itself by up"
                            + " to " + chosen.scale().words(one.size()) + ".", "fact")));
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
                .mapToObj(one -> plan.metric().scale().wordsOf(one))
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
        OptionalDouble aRound = state.study().measured().stream()
                .mapToDouble(one -> (double) Prediction.of(one, state.presentRehearsal()).wallTime().toSeconds()
                        / Math.max(1, one.plan().rounds()))
                .findFirst();
        int row = 1;
        for (int number : new int[]{plan.fewest(), 10, 15, 20, 30}) {
            if (number <= MAX_ROUNDS && (row == 1 || number > plan.fewest())) {
                String size = curve.settles(number).stream().mapToObj(one -> plan.metric().scale().wordsOf(one))
                        .findFirst().orElse("–");
                int rounds = number;
                table.addRow(row++, figure(Integer.toString(number)), figure(size),
                        figure(aRound.stream().mapToObj(seconds -> time(Math.round(seconds * rounds / 60))).findFirst()
                                .orElse("–")));
            }
        }
    }

    private static String time(long minutes) {
        return minutes < 120 ? minutes + " min" : String.format(Locale.ROOT, "%.1f h", minutes / 60.0);
    }

    private static Label figure(String words) {
        return label(words, "level-figure");
    }
}
