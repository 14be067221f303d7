package kadrem.desk.load;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.RadioButton;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.plan.Prediction;
import kadrem.core.plan.Rounds;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Study;
import kadrem.core.verdict.Wording;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.chart.Figure;
import kadrem.desk.chart.FigureTheme;
import kadrem.desk.chart.ProfileFigure;
import kadrem.desk.look.Look;
import kadrem.files.study.Durations;
import kadrem.files.study.ThinkTimes;

/** The load profile as a curve and as figures to type, and what it is going to send. */
public final class LoadStation implements Station {
    private final Session session;
    private final Look look;
    private final VBox view = new VBox(12);
    private final RadioButton open = new RadioButton("arrivals come by themselves (open model)");
    private final RadioButton closed = new RadioButton("users wait for answers (closed model)");
    private final Label explanation = new Label();
    private final Map<String, Entry> entries = new LinkedHashMap<>();
    private final GridPane fields = new GridPane();
    private final Label rejected = new Label();
    private final VBox predictions = new VBox(6);
    private final HBox figurePlace = new HBox();

    /** One figure that can be typed. */
    private record Entry(Label name, TextField field) {
    }

    public LoadStation(Session session, Look look) {
        this.session = session;
        this.look = look;
        var heading = new Label("Load");
        heading.getStyleClass().add("station-heading");
        var group = new ToggleGroup();
        open.setToggleGroup(group);
        closed.setToggleGroup(group);
        open.setId("model-open");
        closed.setId("model-closed");
        open.setOnAction(_ -> choose("open"));
        closed.setOnAction(_ -> choose("closed"));
        explanation.setWrapText(true);
        explanation.getStyleClass().add("muted");
        add("load.arrivalsPerSecond", "arrivals a second");
        add("load.spacing", "spacing");
        add("load.connections", "connections");
        add("load.users", "users");
        add("load.thinkTime", "think time");
        add("load.warmUp", "warm-up");
        add("load.measured", "measured part");
        add("load.timeout", "time limit of a call");
        add("plan.rounds", "rounds");
        add("plan.pause", "pause between runs");
        add("plan.seed", "seed");
        fields.getStyleClass().add("figures-grid");
        fields.getColumnConstraints().addAll(new ColumnConstraints(150), new ColumnConstraints(130));
        rejected.setWrapText(true);
        rejected.getStyleClass().add("problem");
        rejected.setId("rejected");
        var undo = new Button("Undo");
        undo.setOnAction(_ -> session.undo());
        var redo = new Button("Redo");
        redo.setOnAction(_ -> session.redo());
        var left = new VBox(10, open, closed, explanation, fields, new HBox(8, undo, redo), rejected);
        left.setMinWidth(310);
        left.setPrefWidth(330);
        var predicted = new Label("What this will send");
        predicted.getStyleClass().add("section-heading");
        var right = new VBox(10, figurePlace, predicted, predictions);
        HBox.setHgrow(right, Priority.ALWAYS);
        figurePlace.setMinHeight(240);
        figurePlace.setPrefHeight(300);
        VBox.setVgrow(figurePlace, Priority.ALWAYS);
        var columns = new HBox(24, left, right);
        VBox.setVgrow(columns, Priority.ALWAYS);
        view.getStyleClass().add("station");
        view.getChildren().addAll(heading, columns);
    }

    private void add(String path, String name) {
        var label = new Label(name);
        label.getStyleClass().add("attribute");
        var field = new TextField();
        field.getStyleClass().add("figure-field");
        field.setId(path.replace('.', '-'));
        field.setAccessibleText(name);
        label.setLabelFor(field);
        field.setOnAction(_ -> commit(path, field));
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                commit(path, field);
            }
        });
        entries.put(path, new Entry(label, field));
    }

    private void commit(String path, TextField field) {
        session.state().filter(state -> !value(state.study(), path).equals(field.getText().strip())).ifPresent(_ -> {
            rejected.setText("");
            session.edit(Map.of(path, field.getText().strip()), why -> rejected
                    .setText(
                            entries.get(path).name().getText() + " " + why + " The study keeps its last good figure."));
        });
    }

    private void choose(String model) {
        session.state().ifPresent(state -> {
            var changes = new LinkedHashMap<String, String>();
            changes.put("load.model", model);
            String text = state.file().text();
            if (model.equals("closed") && !text.contains("users:")) {
                changes.put("load.users", "20");
            }
            if (model.equals("open") && !text.contains("arrivalsPerSecond:")) {
                changes.put("load.arrivalsPerSecond", "100");
            }
            session.edit(changes, rejected::setText);
        });
    }

    @Override
    public String name() {
        return "Load";
    }

    @Override
    public Node view() {
        return view;
    }

    @Override
    public String summary(Session.State state) {
        LoadProfile load = state.study().load();
        String time = " for " + Durations.write(load.measured());
        return switch (load) {
            case LoadProfile.Open arrivals -> Wording.significant(arrivals.arrivalsPerSecond()) + " arrivals/s" + time;
            case LoadProfile.Closed users -> users.users() + " users" + time;
        };
    }

    @Override
    public Progress progress(Session.State state) {
        return state.file().warnings().isEmpty() ? Progress.DONE : Progress.NEEDS_YOU;
    }

    @Override
    public void show(Session.State state) {
        Study study = state.study();
        boolean isOpen = study.load() instanceof LoadProfile.Open;
        open.setSelected(isOpen);
        closed.setSelected(!isOpen);
        explanation.setText(isOpen
                ? "Visits begin at a given rate, at equal (constant) or random (poisson) distances, whether or not earlier"
                        + " ones were answered. A slow candidate meets a growing queue, as it would in front of the public."
                : "A fixed number of users each wait for an answer, pause, and call again. A slow candidate is asked less.");
        fields.getChildren().clear();
        int row = 0;
        for (Map.Entry<String, Entry> entry : entries.entrySet()) {
            boolean shown = isOpen
                    ? !List.of("load.users", "load.thinkTime").contains(entry.getKey())
                    : !List.of("load.arrivalsPerSecond", "load.spacing", "load.connections").contains(entry.getKey());
            if (shown) {
                fields.addRow(row++, entry.getValue().name(), entry.getValue().field());
                if (!entry.getValue().field().isFocused() || rejected.getText().isEmpty()) {
                    entry.getValue().field().setText(value(study, entry.getKey()));
                }
            }
        }
        var chart = ProfileFigure.chart(FigureTheme.of(look), study.load());
        if (figurePlace.getChildren().isEmpty()) {
            var figure = new Figure("load profile", chart);
            HBox.setHgrow(figure, Priority.ALWAYS);
            figurePlace.getChildren().add(figure);
        } else if (figurePlace.getChildren().getFirst() instanceof Figure figure) {
            figure.show(chart);
        }
        predict(state);
    }

    private void predict(Session.State state) {
        Study study = state.study();
        Prediction prediction = Prediction.of(study);
        predictions.getChildren().clear();
        if (prediction.callsPerRun().isPresent()) {
            boolean bound = study.load() instanceof LoadProfile.Closed;
            fact(String.format(Locale.ROOT, "%s %s calls/s, %s %,.0f calls in the measured part of a run",
                    bound ? "at most" : "about", Wording.significant(prediction.callsPerSecond().getAsDouble()),
                    bound ? "at most" : "about", prediction.callsPerRun().getAsDouble()));
            if (bound) {
                fact("That is users divided by think time: no candidate, however fast, can be asked more often.");
            }
        } else {
            fact("Users without think time call as fast as the candidate answers; how often shows in the first run.");
        }
        fact(String.format(Locale.ROOT, "%d runs: %d candidates × %d rounds, about %s without launching",
                prediction.runs(), study.candidates().size(), study.plan().rounds(),
                minutes(prediction.wallTime().toSeconds())));
        int comparisons = study.pairs().size() * study.question().deciders().size();
        int needed = Rounds.neededToSettle(comparisons, study.question().significance());
        fact(comparisons + (comparisons == 1 ? " comparison decides" : " comparisons decide") + "; fewer than " + needed
                + " rounds could not settle any of them at "
                + Wording.significant((1 - study.question().significance()) * 100) + " %");
        state.file().warnings().forEach(warning -> {
            var label = new Label(warning.toString());
            label.setWrapText(true);
            label.getStyleClass().add("problem");
            predictions.getChildren().add(label);
        });
        int others = state.runs().size() - state.presentRuns().size();
        if (others > 0) {
            var label = new Label(others + (others == 1 ? " run was" : " runs were")
                    + " made with another workload or load. They are kept, and stay out of the comparison until these"
                    + " figures are as they were (Undo).");
            label.setWrapText(true);
            label.setId("other-load");
            label.getStyleClass().add("problem");
            predictions.getChildren().add(label);
        }
    }

    private void fact(String text) {
        var label = new Label(text);
        label.setWrapText(true);
        label.getStyleClass().add("fact");
        predictions.getChildren().add(label);
    }

    private static String minutes(long seconds) {
        return seconds < 120 ? seconds + " s" : seconds / 60 + " min " + seconds % 60 + " s";
    }

    private static String value(Study study, String path) {
        LoadProfile load = study.load();
        return switch (path) {
            case "load.arrivalsPerSecond" ->
                load instanceof LoadProfile.Open arrivals ? plain(arrivals.arrivalsPerSecond()) : "";
            case "load.spacing" -> load instanceof LoadProfile.Open arrivals ? arrivals.spacing().id() : "";
            case "load.connections" -> Integer.toString(load.connections());
            case "load.users" -> load instanceof LoadProfile.Closed users ? Integer.toString(users.users()) : "";
            case "load.thinkTime" ->
                load instanceof LoadProfile.Closed users ? ThinkTimes.write(users.thinkTime()) : "";
            case "load.warmUp" -> Durations.write(load.warmUp());
            case "load.measured" -> Durations.write(load.measured());
            case "load.timeout" -> Durations.write(load.timeout());
            case "plan.rounds" -> Integer.toString(study.plan().rounds());
            case "plan.pause" -> Durations.write(study.plan().pause());
            case "plan.seed" -> Long.toString(study.plan().seed());
            default -> throw new IllegalArgumentException(path);
        };
    }

    private static String plain(double number) {
        return number == Math.rint(number) ? Long.toString((long) number) : Double.toString(number);
    }
}
