package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

import javafx.application.Platform;
import javafx.geometry.HPos;
import javafx.geometry.VPos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.Study;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.look.CandidateMark;
import kadrem.files.study.Durations;

/** A column for each candidate, rows aligned, differing cells marked; launch, probe and stop in place. */
public final class CandidatesStation implements Station, AutoCloseable {
    private static final double MOST_CELL_HEIGHT = 96;

    private final Hangar hangar;
    private final GridPane grid = new GridPane();
    private final Button launchAll = new Button("Launch and probe all");
    private final Button stopAll = new Button("Stop all");
    private final Label note = new Label();
    private final VBox view;
    private Runnable changed = () -> {
    };

    public CandidatesStation(Session session) {
        hangar = new Hangar(() -> Platform.runLater(() -> {
            session.state().ifPresent(this::show);
            changed.run();
        }));
        var heading = new Label("Candidates");
        heading.getStyleClass().add("station-heading");
        launchAll.getStyleClass().add("accent");
        launchAll.setId("launch-all");
        launchAll.setOnAction(_ -> session.state().ifPresent(
                state -> state.study().candidates().forEach(one -> hangar.launch(one, state.file().folder()))));
        stopAll.setId("stop-all");
        stopAll.setOnAction(_ -> hangar.stopAll());
        note.setWrapText(true);
        note.getStyleClass().add("muted");
        grid.getStyleClass().add("candidate-grid");
        var scroll = new ScrollPane(grid);
        scroll.setFitToWidth(true);
        scroll.getStyleClass().add("plain-scroll");
        VBox.setVgrow(scroll, Priority.ALWAYS);
        var actions = new FlowPane(8, 8, launchAll, stopAll);
        view = new VBox(10, heading, note, actions, scroll);
        view.getStyleClass().add("station");
    }

    @Override
    public String name() {
        return "Candidates";
    }

    @Override
    public Node view() {
        return view;
    }

    /** Called on the interface thread when a candidate comes up or goes down. */
    public void onChange(Runnable listener) {
        changed = listener;
    }

    @Override
    public String summary(Session.State state) {
        int count = state.study().candidates().size();
        long up = state.study().candidates().stream().filter(one -> hangar.status(one.id()).isUp()).count();
        return count + (up == 0 ? ", none running now" : up == count ? ", all answer" : ", " + up + " answer");
    }

    @Override
    public Progress progress(Session.State state) {
        if (state.study().candidates().size() < 2) {
            return Progress.NEEDS_YOU;
        }
        return state.study().candidates().stream().anyMatch(one -> hangar.status(one.id()).isProblem())
                ? Progress.NEEDS_YOU
                : Progress.DONE;
    }

    @Override
    public void show(Session.State state) {
        Study study = state.study();
        note.setText(study.candidates().size() < 2
                ? "A comparison needs at least two candidates. Add them to study.yaml; the window reads it again with F5."
                : "A cell with a bar on its left differs between the candidates. What was found by asking stands last.");
        boolean any = study.candidates().stream().anyMatch(one -> hangar.status(one.id()).isRunning());
        stopAll.setDisable(!any);
        launchAll.setDisable(study.candidates().stream().noneMatch(one -> one.launch().isPresent()));
        grid.getChildren().clear();
        grid.getColumnConstraints().clear();
        var names = new ColumnConstraints(130);
        grid.getColumnConstraints().add(names);
        for (Candidate _ : study.candidates()) {
            var column = new ColumnConstraints(200, 280, Double.MAX_VALUE);
            column.setHgrow(Priority.ALWAYS);
            grid.getColumnConstraints().add(column);
        }
        int row = 0;
        row = headings(study, row);
        row = actions(state, row);
        row = section(row, "As the study says", told(study));
        section(row, "As found", found(state));
    }

    private int headings(Study study, int row) {
        for (Candidate candidate : study.candidates()) {
            int index = study.indexOf(candidate.id());
            var name = new CandidateMark(index).label(candidate.name());
            boolean baseline = candidate.id().equals(study.question().baseline());
            var role = new Label(baseline ? "baseline" : "compared with it");
            role.getStyleClass().add("muted");
            grid.add(new VBox(name, role), index + 1, row);
        }
        return row + 1;
    }

    /** Values by attribute, a value for each candidate; empty where it has none. */
    private static Map<String, List<String>> told(Study study) {
        var rows = new LinkedHashMap<String, List<String>>();
        put(rows, study, "address", one -> one.address().toString());
        put(rows, study, "protocol", _ -> "HTTP/1.1, keep-alive");
        put(rows, study, "launch", one -> one.launch().map(launch -> String.join(" ", launch.command()))
                .orElse("already running"));
        put(rows, study, "working folder", one -> one.launch().map(Launch::folder).orElse(""));
        put(rows, study, "processor set", one -> one.launch().flatMap(Launch::processors).orElse("any"));
        put(rows, study, "ready probe", one -> one.ready() + one.launch()
                .map(launch -> ", within " + Durations.write(launch.readyWithin())).orElse(""));
        put(rows, study, "reset", one -> one.reset().map(call -> call.method() + " " + call.path()).orElse("none"));
        put(rows, study, "stop",
                one -> one.launch().map(launch -> "asked, by force after " + Durations.write(launch.stopWithin()))
                        .orElse("not by Kadrem"));
        return rows;
    }

    private static void put(Map<String, List<String>> rows, Study study, String name,
            java.util.function.Function<Candidate, String> value) {
        rows.put(name, study.candidates().stream().map(value).toList());
    }

    private Map<String, List<String>> found(Session.State state) {
        var prints = new ArrayList<Map<String, String>>();
        for (Candidate candidate : state.study().candidates()) {
            prints.add(hangar.status(candidate.id()).fingerprint().or(() -> lastFingerprint(state, candidate.id()))
                    .orElse(Map.of()));
        }
        Set<String> names = new LinkedHashSet<>();
        prints.forEach(print -> names.addAll(print.keySet()));
        names.removeAll(Set.of("address", "command", "protocol"));
        var rows = new LinkedHashMap<String, List<String>>();
        names.forEach(name -> rows.put(name, prints.stream().map(print -> print.getOrDefault(name, "")).toList()));
        if (rows.isEmpty()) {
            rows.put("fingerprint",
                    state.study().candidates().stream().map(_ -> "not known before the first launch").toList());
        }
        return rows;
    }

    private static Optional<Map<String, String>> lastFingerprint(Session.State state, String id) {
        return state.runs().stream().filter(run -> run.candidate().equals(id) && !run.fingerprint().isEmpty())
                .max(Comparator.comparing(RunRecord::started)).map(RunRecord::fingerprint);
    }

    private int section(int from, String title, Map<String, List<String>> rows) {
        int row = from;
        var heading = new Label(title);
        heading.getStyleClass().add("section-heading");
        grid.add(heading, 0, row++, GridPane.REMAINING, 1);
        for (Map.Entry<String, List<String>> entry : rows.entrySet()) {
            var name = new Label(entry.getKey());
            name.getStyleClass().add("attribute");
            GridPane.setValignment(name, VPos.TOP);
            grid.add(name, 0, row);
            boolean differs = entry.getValue().stream().distinct().count() > 1;
            for (int i = 0; i < entry.getValue().size(); i++) {
                var cell = new Label(entry.getValue().get(i).isEmpty() ? "–" : entry.getValue().get(i));
                cell.setWrapText(true);
                cell.setMaxWidth(Double.MAX_VALUE);
                // a long command is cut here and whole in the tooltip
                cell.setMaxHeight(MOST_CELL_HEIGHT);
                cell.getStyleClass().addAll("fact-cell", differs ? "differs" : "same");
                cell.setTooltip(new Tooltip(
                        (differs ? "differs between the candidates: " : "the same for all: ")
                                + entry.getValue().get(i)));
                grid.add(cell, i + 1, row);
            }
            row++;
        }
        return row;
    }

    private int actions(Session.State state, int row) {
        var name = new Label("now");
        name.getStyleClass().add("attribute");
        GridPane.setValignment(name, VPos.TOP);
        grid.add(name, 0, row);
        for (Candidate candidate : state.study().candidates()) {
            Hangar.Status status = hangar.status(candidate.id());
            var words = new Label(status.words());
            words.setWrapText(true);
            words.setId("status-" + candidate.id());
            words.getStyleClass().add(status.isProblem() ? "problem" : status.isUp() ? "good" : "muted");
            var launch = new Button("Launch");
            launch.setId("launch-" + candidate.id());
            launch.setDisable(status.isRunning() || candidate.launch().isEmpty());
            launch.setOnAction(_ -> hangar.launch(candidate, state.file().folder()));
            var probe = new Button("Probe");
            probe.setId("probe-" + candidate.id());
            probe.setOnAction(_ -> hangar.probe(candidate, state.file().folder()));
            var stop = new Button("Stop");
            stop.setId("stop-" + candidate.id());
            stop.setDisable(!status.isRunning());
            stop.setOnAction(_ -> hangar.stop(candidate.id()));
            var cell = new VBox(6, new FlowPane(6, 6, launch, probe, stop), words);
            GridPane.setHalignment(cell, HPos.LEFT);
            grid.add(cell, state.study().indexOf(candidate.id()) + 1, row);
        }
        return row + 1;
    }

    /** Stops what was launched here, as before a measurement; runs {@code then} on the interface thread afterwards. */
    public void stopAll(Runnable then) {
        hangar.stopAll(then);
    }

    @Override
    public void close() {
        hangar.close();
    }
}
