package kadrem.desk.verdict;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Stream;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Slider;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.core.study.Factor;
import kadrem.core.study.Question;
import kadrem.core.study.Requirement;
import kadrem.core.study.Study;
import kadrem.core.verdict.Criterion;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.Preference;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.SittingTable;
import kadrem.core.verdict.Verdict;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.UndoButtons;
import kadrem.desk.export.ExportDialog;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.why.WhyDrawer;
import kadrem.figures.Mark;
import kadrem.files.study.Edit;

/** Requirements met, missed or not shown; weights to move, with the ranking and its certainty; the recommendation in words. */
public final class VerdictStation implements Station {
    private static final double MOST_WEIGHT = 10;
    private static final double BAR_WIDTH = 120;

    private final Session session;
    private final Consumer<Explanation> why;
    private final VBox view = new VBox(10);
    private final Label paragraph = new Label();
    private final GridPane requirements = new GridPane();
    private final VBox weights = new VBox(5);
    private final GridPane ranking = new GridPane();
    private final VBox judged = new VBox(6);
    private final List<ScoreRow> scores = new ArrayList<>();
    private List<String> judgedNames = List.of();
    private final VBox notShown = new VBox(4);
    private final Label rejected = new Label();
    private final List<Slider> sliders = new ArrayList<>();
    private final GridPane sittings = new GridPane();
    private final VBox bySitting = new VBox(8);
    private Optional<Session.State> shown = Optional.empty();

    public VerdictStation(Session session, Consumer<Explanation> why) {
        this.session = session;
        this.why = why;
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
        paragraph.getStyleClass().add("verdict-paragraph");
        sittings.getStyleClass().add("verdict-grid");
        sittings.setId("sittings");
        bySitting.getChildren().addAll(heading("Sittings side by side"), sittings);
        bySitting.managedProperty().bind(bySitting.visibleProperty());
        requirements.getStyleClass().add("verdict-grid");
        requirements.setId("requirements-grid");
        ranking.getStyleClass().add("verdict-grid");
        ranking.setId("ranking");
        notShown.setId("not-shown");
        weights.setId("weights");
        judged.setId("judged");
        rejected.setWrapText(true);
        rejected.getStyleClass().add("problem");
        rejected.managedProperty().bind(rejected.textProperty().isNotEmpty());
        var left = new VBox(8, heading("Requirements"), requirements, heading("What counts"), weights, judged,
                rejected);
        var right = new VBox(8, heading("Ranking under these weights"), ranking, heading("Not shown"), notShown);
        left.setPrefWidth(500);
        right.setPrefWidth(500);
        left.setMinWidth(0);
        right.setMinWidth(0);
        HBox.setHgrow(left, Priority.ALWAYS);
        HBox.setHgrow(right, Priority.ALWAYS);
        var all = new VBox(12, paragraph, bySitting, new HBox(28, left, right));
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

    private static Label words(String text, String style) {
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
    public Node view() {
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
        shown = Optional.of(state);
        Verdict verdict = state.verdict();
        paragraph.setText(verdict.paragraph());
        fillSittings(verdict);
        fillRequirements(state.study(), verdict);
        fillWeights(state.study(), verdict);
        fillJudged(state.study());
        rank();
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

    private void fillWeights(Study study, Verdict verdict) {
        weights.getChildren().clear();
        sliders.clear();
        if (verdict.preference().isEmpty()) {
            weights.getChildren()
                    .add(words("There is nothing to weigh: it takes two candidates that miss no requirement, and a"
                            + " round in which all of them have a sound run.", "muted"));
            return;
        }
        List<Criterion> criteria = verdict.preference().get().criteria();
        for (Criterion criterion : criteria) {
            double most = Math.max(MOST_WEIGHT, criterion.weight());
            var slider = new Slider(0, most, criterion.weight());
            slider.setId("weight-" + criterion.name().replace(' ', '-'));
            slider.setAccessibleText("weight of " + criterion.name());
            slider.setPrefWidth(170);
            slider.setBlockIncrement(1);
            sliders.add(slider);
            var share = words("", "level-figure");
            share.setMinWidth(54);
            var name = words(criterion.name(), "fact");
            name.setPrefWidth(190);
            var row = new HBox(8, name, slider, share);
            row.setAlignment(Pos.CENTER_LEFT);
            row.setUserData(share);
            weights.getChildren().add(row);
            slider.valueProperty().addListener((_, _, _) -> rank());
            slider.valueChangingProperty().addListener((_, _, changing) -> {
                if (!changing) {
                    keep(study, criterion, slider.getValue());
                }
            });
            slider.setOnKeyReleased(_ -> keep(study, criterion, slider.getValue()));
        }
        List<String> unknown = Preference.criteria(study).stream().map(Criterion::name)
                .filter(name -> criteria.stream().noneMatch(one -> one.name().equals(name))).toList();
        if (!unknown.isEmpty()) {
            weights.getChildren().add(words("Not weighed, as it is not known of every candidate: "
                    + String.join(", ", unknown) + ".", "muted"));
        }
    }

    /** Writes a weight that was moved into the study. */
    private void keep(Study study, Criterion criterion, double moved) {
        double weight = Math.round(moved * 10) / 10.0;
        if (weight == criterion.weight()) {
            return;
        }
        List<Question.Decider> deciders = study.question().deciders();
        List<Factor> factors = study.question().factors();
        for (int i = 0; i < deciders.size(); i++) {
            if (criterion.metric().filter(deciders.get(i).metric()::equals).isPresent()) {
                edit(List.of(new Edit.Put("question.decide[" + i + "]", Map.of("weight", Optional.of(weight)))));
            }
        }
        for (int i = 0; i < factors.size(); i++) {
            if (criterion.factor().filter(factors.get(i)::equals).isPresent()) {
                edit(List.of(new Edit.Put("question.judge[" + i + "]", Map.of("weight", Optional.of(weight)))));
            }
        }
    }

    private void edit(List<Edit> edits) {
        rejected.setText("");
        session.edit(edits, reason -> rejected.setText(reason + " The study keeps its last good state."));
    }

    /** Ranks by where the sliders stand; at once, as nothing is computed anew but sums. */
    private void rank() {
        Session.State state = shown.orElseThrow();
        ranking.getChildren().clear();
        Optional<Preference> preference = state.verdict().preference();
        if (preference.isEmpty() || sliders.size() != preference.get().criteria().size()) {
            return;
        }
        double[] now = sliders.stream().mapToDouble(Slider::getValue).toArray();
        double sum = java.util.Arrays.stream(now).sum();
        for (int i = 0; i < now.length; i++) {
            if (weights.getChildren().get(i).getUserData() instanceof Label share) {
                share.setText(
                        String.format(Locale.ROOT, "%.0f %%", 100 * (sum == 0 ? 1.0 / now.length : now[i] / sum)));
            }
        }
        List<String> heads = List.of("", "worth", "first in resampled rounds",
                now.length > 1 ? "first of all weights" : "");
        for (int i = 0; i < heads.size(); i++) {
            ranking.add(words(heads.get(i), "attribute"), i, 0);
        }
        int row = 1;
        for (Preference.Place place : preference.get().rank(now)) {
            int index = state.study().indexOf(place.candidate());
            Button name = WhyDrawer.link(row + ".  " + new CandidateMark(index).letter() + "  " + place.candidate(),
                    () -> Explanation.of(state.study(), preference.get(), now, place), why);
            name.setGraphic(new CandidateMark(index).marker(6));
            name.setWrapText(false);
            name.setMinWidth(Region.USE_PREF_SIZE);
            name.setId("rank-" + place.candidate());
            ranking.add(name, 0, row);
            ranking.add(bar(index, place.worth(), String.format(Locale.ROOT, "%.2f%s", place.worth(),
                    (state.verdict().qualified().contains(place.candidate()) ? "" : " ?")
                            + (place.unbeaten() ? " unbeaten" : ""))),
                    1, row);
            ranking.add(bar(index, place.shareOfResamples(), percent(place.shareOfResamples())), 2, row);
            if (now.length > 1) {
                ranking.add(bar(index, place.shareOfWeights(), percent(place.shareOfWeights())), 3, row);
            }
            row++;
        }
        if (state.verdict().qualified().size() < row - 1) {
            ranking.add(key(), 0, row, heads.size(), 1);
        }
    }

    /** The key to the mark of those that are not shown to meet every requirement. */
    private Node key() {
        return words("? not shown to meet every requirement, so not to be chosen yet", "muted");
    }

    private static String percent(double share) {
        return String.format(Locale.ROOT, share > 0 && share < 1 ? "%.1f %%" : "%.0f %%", share * 100);
    }

    private static Node bar(int candidate, double share, String text) {
        var bar = new Region();
        bar.setPrefSize(Math.max(1, BAR_WIDTH * share), 9);
        bar.setMaxSize(Math.max(1, BAR_WIDTH * share), 9);
        bar.setStyle("-fx-background-color: " + String.format(Locale.ROOT, "#%06X",
                new Mark(candidate).awtColour().getRGB() & 0xFFFFFF) + ";");
        var box = new VBox(1, words(text, "level-figure"), bar);
        box.setMinWidth(BAR_WIDTH);
        return box;
    }

    /**
     * A row for each factor and candidate: a step of the scale, and the reason. Rows stay in their place as long as the study has
     * the same ones, so that whoever goes from one to the next is not interrupted by what the first has changed.
     */
    private void fillJudged(Study study) {
        List<Factor> factors = study.question().factors();
        List<String> wanted = Stream.concat(factors.stream().map(Factor::name),
                study.candidates().stream().map(Candidate::id)).toList();
        if (!wanted.equals(judgedNames) || scores.isEmpty()) {
            judgedNames = wanted;
            scores.clear();
            judged.getChildren().clear();
            if (factors.isEmpty()) {
                judged.getChildren()
                        .add(words("Nothing is judged beside what was measured. Question has the factors that count:"
                                + " development effort, operation, licence, ecosystem.", "muted"));
            }
            for (int i = 0; i < factors.size(); i++) {
                judged.getChildren().add(words(factors.get(i).name() + ", judged", "attribute"));
                for (int c = 0; c < study.candidates().size(); c++) {
                    var row = new ScoreRow(factors.get(i), i, study.candidates().get(c).id(), c);
                    scores.add(row);
                    judged.getChildren().add(row.view);
                }
            }
        }
        scores.forEach(row -> row.show(factors.get(row.place)));
    }

    /** How a candidate is judged in a factor. */
    private final class ScoreRow {
        private final int place;
        private final String candidate;
        private final ComboBox<String> step = new ComboBox<>();
        private final TextField reason = new TextField();
        private final HBox view;
        private Optional<Factor.Score> last = Optional.empty();
        private boolean filling;

        ScoreRow(Factor factor, int place, String candidate, int index) {
            this.place = place;
            this.candidate = candidate;
            for (int i = 0; i < Factor.SCALE.size(); i++) {
                step.getItems().add(i + 1 + " " + Factor.SCALE.get(i));
            }
            step.setId("judge-" + place + "-" + candidate);
            step.setAccessibleText(factor.name() + " of " + candidate);
            step.setPromptText("not judged");
            step.setPrefWidth(216);
            step.setMinWidth(216);
            step.setOnAction(_ -> commit());
            reason.setId("reason-" + place + "-" + candidate);
            reason.setPromptText("why");
            reason.setAccessibleText("reason for " + factor.name() + " of " + candidate);
            HBox.setHgrow(reason, Priority.ALWAYS);
            reason.setOnAction(_ -> commit());
            reason.focusedProperty().addListener((_, _, focused) -> {
                if (!focused) {
                    commit();
                }
            });
            var mark = new Label(new CandidateMark(index).letter(), new CandidateMark(index).marker(5));
            mark.setMinWidth(36);
            view = new HBox(6, mark, step, reason);
            view.setAlignment(Pos.CENTER_LEFT);
        }

        /** What was chosen or typed and waits for the other half stays until the study says otherwise. */
        void show(Factor factor) {
            Optional<Factor.Score> known = Optional.ofNullable(factor.scores().get(candidate));
            if (known.equals(last)) {
                return;
            }
            last = known;
            filling = true;
            step.setValue(known.map(one -> one.step() + " " + one.words()).orElse(null));
            if (!reason.isFocused()) {
                reason.setText(known.map(Factor.Score::reason).orElse(""));
            }
            filling = false;
        }

        private void commit() {
            List<Factor> factors = shown.map(state -> state.study().question().factors()).orElse(List.of());
            if (!filling && place < factors.size()) {
                judge(factors.get(place), place, candidate, step.getSelectionModel().getSelectedIndex() + 1,
                        reason.getText().strip());
            }
        }
    }

    private void judge(Factor factor, int place, String candidate, int step, String reason) {
        Factor.Score before = factor.scores().get(candidate);
        if (step < 1 || before != null && before.step() == step && before.reason().equals(reason)) {
            return;
        }
        if (reason.isEmpty()) {
            rejected.setText("A judgement needs its reason: write why " + candidate + " is "
                    + Factor.SCALE.get(step - 1) + " in " + factor.name() + ".");
            return;
        }
        var all = new HashMap<String, Object>();
        factor.scores().forEach((id, score) -> all.put(id, Map.of("step", score.step(), "reason", score.reason())));
        all.put(candidate, Map.of("step", step, "reason", reason));
        edit(List.of(new Edit.Put("question.judge[" + place + "]", Map.of("scores", Optional.of(all)))));
    }
}
