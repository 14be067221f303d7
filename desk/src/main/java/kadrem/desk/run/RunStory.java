package kadrem.desk.run;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.examine.Signature;
import kadrem.core.measure.GeneratorFigures;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Soundness;
import kadrem.core.measure.Standing;
import kadrem.core.study.Judgement;
import kadrem.core.study.Metric;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Written;
import kadrem.desk.Session;
import kadrem.files.study.Edit;

/**
 * What a run on record came to: its figures, the levels of a search, and the rules of soundness with their limits, which are
 * changed here; an unsound run is taken into comparisons with a reason.
 */
public final class RunStory {
    private final Session session;
    private final Consumer<String> rejected;
    private final VBox view = new VBox(3);
    private final VBox signatures = new VBox(6);
    private final ToggleButton rules = new ToggleButton("Rules of soundness");
    private Optional<RunRecord> shown = Optional.empty();

    public RunStory(Session session, Consumer<String> rejected) {
        this.session = session;
        this.rejected = rejected;
        signatures.managedProperty().bind(javafx.beans.binding.Bindings.isNotEmpty(signatures.getChildren()));
        rules.getStyleClass().add("small-button");
        rules.setId("soundness-rules");
        rules.setOnAction(_ -> session.state().ifPresent(state -> shown.ifPresent(run -> show(state, run))));
    }

    public VBox view() {
        return view;
    }

    /** Sentences while there is no run on record to be shown. */
    public void say(String text, String style) {
        shown = Optional.empty();
        view.getChildren().setAll(words(text, style));
    }

    public void show(Session.State state, RunRecord run) {
        shown = Optional.of(run);
        view.getChildren().clear();
        signatures.getChildren().clear();
        if (!run.reason().isEmpty()) {
            view.getChildren().add(words(run.reason(), "problem"));
        }
        run.figures().ifPresent(figures -> view.getChildren().add(words(sentence(figures), "fact")));
        view.getChildren().add(signatures);
        run.generator().filter(own -> !own.pacing().isEmpty()).ifPresent(own -> run.figures()
                .ifPresent(figures -> view.getChildren().add(words(sentence(own, figures), "muted"))));
        if (!run.levels().isEmpty()) {
            view.getChildren().add(levels(run.levels()));
        }
        List<Soundness.Finding> broken = run.soundness().stream().filter(finding -> !finding.ok()).toList();
        broken.forEach(finding -> view.getChildren().add(finding.disturbs()
                ? words("disturbed, so that the whole round is set aside: " + finding.sentence(), "problem")
                : words("found, and kept in: " + finding.sentence(), "fact")));
        if (run.standing() instanceof Standing.OfCandidate) {
            view.getChildren().add(words("This is a result: it counts as worse than any figure, and is not made again.",
                    "fact"));
        }
        if (!run.soundness().isEmpty()) {
            var head = new HBox(10, rules);
            head.setAlignment(Pos.CENTER_LEFT);
            if (broken.isEmpty()) {
                head.getChildren().addFirst(words("Counted: " + run.soundness().size()
                        + " rules looked at, none broken.", "muted"));
            } else if (run.standing() instanceof Standing.Disturbed) {
                head.getChildren().addAll(takingIn(state, run));
            }
            view.getChildren().add(head);
            if (rules.isSelected()) {
                view.getChildren().add(findings(state, run));
            }
        }
        String output = String.join("\n", run.lastOutput());
        if (!output.isEmpty()) {
            view.getChildren().add(words("its last output:\n" + output, "output"));
        }
    }

    /** Adds what a practitioner would say of the run that is shown. */
    public void tell(List<Signature> found) {
        signatures.getChildren().setAll(SignatureNotes.of(found));
    }

    private static String sentence(RunFigures figures) {
        return String.format(Locale.ROOT,
                "%,d calls due, %,d good, %,d without a good answer in time; response time p50 %s, p95 %s, p99 %s; throughput %s/s.",
                figures.due(), figures.good(), figures.due() - figures.good(),
                Written.duration(figures.response().p50()),
                Written.duration(figures.response().p95()), Written.duration(figures.response().p99()),
                Written.significant(figures.throughput()))
                + (figures.crowds().isEmpty() ? "" : " By crowd: " + figures.crowdsInWords() + ".");
    }

    /** How the load was made, and how much of the response times was the generator's own. */
    private static String sentence(GeneratorFigures own, RunFigures figures) {
        String share = figures.lateShare(Metric.P99).isPresent()
                ? String.format(Locale.ROOT, "; it was %s %% of p99, and is taken away",
                        Written.significant(figures.lateShare(Metric.P99).getAsDouble() * 100))
                : "";
        return String.format(Locale.ROOT, "The generator: %s, %s; late by p50 %s, p99 %s%s.%s",
                own.lanes() == 1 ? "1 lane" : own.lanes() + " lanes", own.pacing(),
                Written.duration(figures.late().p50()), Written.duration(figures.late().p99()), share,
                own.longTurns().stream()
                        .map(turns -> String.format(Locale.ROOT, " Held up %,d times by %s, %s at most.", turns.count(),
                                turns.cause().words(), Written.duration(turns.longestNanos())))
                        .collect(Collectors.joining()));
    }

    /** Level down, figures across. */
    private static Node levels(List<LevelResult> levels) {
        var grid = new GridPane();
        grid.getStyleClass().add("level-grid");
        grid.setId("levels");
        List<String> heads = List.of("level", "throughput", "p50", "p99", "failed", "what it showed");
        for (int i = 0; i < heads.size(); i++) {
            grid.add(figure(heads.get(i), "attribute"), i, 0);
        }
        for (int row = 0; row < levels.size(); row++) {
            LevelResult level = levels.get(row);
            Optional<RunFigures> figures = level.figures();
            List<String> cells = List.of(Written.significant(level.level()),
                    figures.map(one -> Written.significant(one.throughput()) + "/s").orElse(""),
                    figures.map(one -> Written.duration(one.response().p50())).orElse(""),
                    figures.map(one -> Written.duration(one.response().p99())).orElse(""),
                    figures.map(one -> Written.significant(one.errorShare() * 100) + " %").orElse(""));
            for (int i = 0; i < cells.size(); i++) {
                grid.add(figure(cells.get(i)), i, row + 1);
            }
            Label verdict = words(level.verdict(), level.step() == LevelResult.Step.PASSED ? "fact" : "problem");
            GridPane.setHgrow(verdict, Priority.ALWAYS);
            grid.add(verdict, cells.size(), row + 1);
        }
        return grid;
    }

    private List<Node> takingIn(Session.State state, RunRecord run) {
        List<Judgement.TakenIn> takenIn = state.study().judgement().takenIn();
        Optional<String> reason = state.study().judgement().reason(run.id());
        if (reason.isPresent()) {
            var out = new Button("Leave it out again");
            out.getStyleClass().add("small-button");
            out.setId("leave-out");
            int index = takenIn.stream().map(Judgement.TakenIn::run).toList().indexOf(run.id());
            out.setOnAction(_ -> edit(new Edit.Remove("soundness.takenIn", index)));
            return List.of(words("Taken into the comparison by hand: " + reason.get(), "fact"), out);
        }
        var why = new TextField();
        why.setPromptText("why it may count all the same");
        why.setId("take-in-reason");
        why.setPrefWidth(220);
        var in = new Button("Take it in");
        in.getStyleClass().add("small-button");
        in.setId("take-in");
        in.disableProperty().bind(why.textProperty().isEmpty());
        in.setOnAction(_ -> edit(new Edit.Insert("soundness.takenIn", takenIn.size(),
                Map.of("run", run.id(), "reason", why.getText().strip()))));
        return List.of(why, in);
    }

    /** Rule, figure and limit; the limit is a field, whose change holds for every run of the study. */
    private Node findings(Session.State state, RunRecord run) {
        var grid = new GridPane();
        grid.getStyleClass().add("level-grid");
        grid.setId("findings");
        int row = 0;
        for (Soundness.Finding finding : run.soundness()) {
            Optional<SoundnessRule> rule = SoundnessRule.byLabel(finding.rule());
            String mark = finding.ok() ? "✓ " : finding.setsAside() ? "✕ " : "! ";
            grid.add(figure(mark + finding.rule(), finding.disturbs() ? "problem" : "fact"), 0, row);
            grid.add(figure(rule.map(one -> one.written(finding.figure())).orElse("")), 1, row);
            boolean changed = rule.filter(state.study().judgement().limits()::containsKey).isPresent();
            grid.add(figure(changed ? "limit of this study" : "limit", changed ? "problem" : "attribute"), 2, row);
            int at = row;
            rule.ifPresent(one -> grid.add(limit(one, finding.limit()), 3, at));
            row++;
        }
        return grid;
    }

    private TextField limit(SoundnessRule rule, double limit) {
        String written = rule.written(limit).replace(" ", "");
        var field = new TextField(written);
        field.getStyleClass().addAll("code-field", "figure-field");
        field.setPrefWidth(92);
        field.setId("limit-" + rule.id());
        field.setAccessibleText("limit of " + rule.label() + ", empty for the usual one");
        Runnable commit = () -> {
            String text = field.getText().strip();
            if (!text.equals(written)) {
                edit(new Edit.Put("soundness.limits", Map.of(rule.id(), text.isEmpty()
                        ? Optional.empty()
                        : Optional.of(text))));
            }
        };
        field.setOnAction(_ -> commit.run());
        return field;
    }

    private void edit(Edit edit) {
        session.edit(List.of(edit), rejected);
    }

    private static Label figure(String text) {
        return figure(text, "level-figure");
    }

    /** A label that keeps to one line. */
    private static Label figure(String text, String style) {
        Label label = words(text, style);
        label.setWrapText(false);
        label.setMinWidth(Region.USE_PREF_SIZE);
        return label;
    }

    public static Label words(String text, String style) {
        var label = new Label(text);
        label.setWrapText(true);
        label.getStyleClass().add(style);
        return label;
    }
}
