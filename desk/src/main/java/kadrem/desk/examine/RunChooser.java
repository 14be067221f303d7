package kadrem.desk.examine;

import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Candidate;
import kadrem.desk.Session;
import kadrem.desk.look.CandidateMark;

/** Which runs are looked at: rounds down, candidates across; a head takes a whole row or column. */
final class RunChooser {
    private final GridPane grid = new GridPane();
    private final Runnable changed;
    private final Set<String> chosen = new LinkedHashSet<>();
    private List<RunRecord> runs = List.of();
    private boolean touched;

    RunChooser(Runnable changed) {
        this.changed = changed;
        grid.setHgap(4);
        grid.setVgap(3);
    }

    Node view() {
        return grid;
    }

    /** The runs that are looked at, by candidate and round. */
    List<RunRecord> chosen(Session.State state) {
        return runs.stream().filter(run -> chosen.contains(run.id()))
                .sorted(Comparator.<RunRecord>comparingInt(run -> state.study().indexOf(run.candidate()))
                        .thenComparingInt(RunRecord::round))
                .toList();
    }

    /** The runs with figures of the present workload and load, the newest of each candidate and round. */
    private static List<RunRecord> known(Session.State state) {
        var newest = new TreeMap<String, RunRecord>();
        state.presentRuns().stream().filter(run -> run.figures().isPresent())
                .filter(run -> state.study().indexOf(run.candidate()) >= 0)
                .sorted(Comparator.comparing(RunRecord::started))
                .forEach(run -> newest.put(run.round() + " " + run.candidate(), run));
        return List.copyOf(newest.values());
    }

    /** Shows the runs of the study; until the user has chosen, the last round that is sound for most is looked at. */
    void show(Session.State state) {
        runs = known(state);
        chosen.retainAll(runs.stream().map(RunRecord::id).toList());
        if (!touched || chosen.isEmpty()) {
            chosen.clear();
            runs.stream().mapToInt(RunRecord::round).distinct().boxed()
                    .max(Comparator.<Integer>comparingLong(round -> runs.stream()
                            .filter(run -> run.round() == round && run.isSound()).count())
                            .thenComparing(Comparator.naturalOrder()))
                    .ifPresent(round -> runs.stream().filter(run -> run.round() == round)
                            .forEach(run -> chosen.add(run.id())));
        }
        draw(state);
    }

    private void draw(Session.State state) {
        grid.getChildren().clear();
        List<Candidate> candidates = state.study().candidates();
        for (int i = 0; i < candidates.size(); i++) {
            String id = candidates.get(i).id();
            var head = new Button("", new CandidateMark(i).marker(5));
            head.setId("examine-all-" + id);
            head.setTooltip(new Tooltip("All runs of " + candidates.get(i).name()));
            head.setAccessibleText("all runs of " + candidates.get(i).name());
            head.setOnAction(_ -> flip(state, runs.stream().filter(run -> run.candidate().equals(id)).toList()));
            head.getStyleClass().add("run-choice");
            grid.add(head, i + 1, 0);
        }
        int row = 1;
        for (int round : runs.stream().mapToInt(RunRecord::round).distinct().sorted().toArray()) {
            var name = new Button(Integer.toString(round));
            name.setId("examine-round-" + round);
            name.setTooltip(new Tooltip("All runs of round " + round));
            name.setAccessibleText("all runs of round " + round);
            name.setOnAction(_ -> flip(state, runs.stream().filter(run -> run.round() == round).toList()));
            name.getStyleClass().addAll("run-choice", "quiet-head");
            grid.add(name, 0, row);
            for (int i = 0; i < candidates.size(); i++) {
                String id = candidates.get(i).id();
                Optional<RunRecord> run = runs.stream()
                        .filter(one -> one.round() == round && one.candidate().equals(id)).findFirst();
                if (run.isPresent()) {
                    grid.add(cell(state, run.get(), i), i + 1, row);
                }
            }
            row++;
        }
    }

    private Node cell(Session.State state, RunRecord run, int candidate) {
        var button = new ToggleButton(run.isSound() ? new CandidateMark(candidate).letter() : "✕");
        button.setMnemonicParsing(false);
        button.setSelected(chosen.contains(run.id()));
        button.setId("examine-" + run.round() + "-" + run.candidate());
        button.getStyleClass().add("run-choice");
        button.setTooltip(
                new Tooltip(name(candidate, run) + (run.isSound() ? ", sound" : ", unsound: Measure says why")));
        button.setAccessibleText("look at round " + run.round() + " of " + run.candidate());
        button.setOnAction(_ -> flip(state, List.of(run)));
        return button;
    }

    /** Letter of the candidate and number of the round. */
    static String name(int candidate, RunRecord run) {
        return new CandidateMark(candidate).letter() + run.round();
    }

    /** Takes runs in, or out where all of them are in already. */
    private void flip(Session.State state, List<RunRecord> some) {
        touched = true;
        List<String> ids = some.stream().map(RunRecord::id).toList();
        if (!chosen.containsAll(ids)) {
            chosen.addAll(ids);
        } else if (chosen.size() > ids.size()) {
            ids.forEach(chosen::remove);
        }
        draw(state);
        changed.run();
    }
}
