package kadrem.desk.compare;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.input.Clipboard;
import javafx.scene.input.ClipboardContent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.verdict.History;
import kadrem.desk.chart.Figure;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.Later;
import kadrem.files.history.HistoryFile;
import kadrem.files.study.StudyFile;
import kadrem.figures.HistoryFigure;

/** A metric of a candidate over its versions, and where it changed. */
final class HistorySide implements CompareSide {
    private final Later<Key, Known> histories;
    private final ComboBox<String> candidate = new ComboBox<>();

    /** What the history is read for; read again with every new state of the study. */
    private record Key(StudyFile file, Metric metric, int runs) {
    }

    private record Known(List<History> histories, List<String> candidates, List<String> unreadable) {
    }

    /** @param again told when another candidate is looked at, or the history is there */
    HistorySide(Runnable again) {
        histories = new Later<>(again);
        candidate.setId("history-candidate");
        candidate.setAccessibleText("candidate whose versions are shown");
        candidate.setOnAction(_ -> again.run());
    }

    @Override
    public List<Node> show(Looked looked) {
        Study study = looked.study();
        Optional<Known> known = histories.of(
                new Key(looked.state().file(), looked.metric(), looked.state().runs().size()),
                () -> read(looked.state().file(), looked.metric()));
        if (known.isEmpty()) {
            return List.of(histories.problem().isEmpty()
                    ? words("Reading the history …", "muted")
                    : words("The history cannot be read (" + histories.problem() + "); everything else stays.",
                            "problem"));
        }
        Known there = known.get();
        if (there.candidates().isEmpty()) {
            return List.of(
                    words("No version of a candidate has been measured yet. From a shell, kadrem regress measures two"
                            + " commits or two commands beside each other and keeps both here; kadrem history STUDY --add VERSION keeps the"
                            + " runs of this study as a version. A change shows from "
                            + kadrem.core.stats.ChangePoints.FEWEST
                            + " versions on.", "fact"));
        }
        if (!candidate.getItems().equals(there.candidates())) {
            candidate.setItems(FXCollections.observableArrayList(there.candidates()));
            candidate.setValue(there.candidates().getFirst());
        }
        History history = there.histories().get(Math.max(0, there.candidates().indexOf(candidate.getValue())));
        var nodes = new ArrayList<Node>();
        if (there.candidates().size() > 1) {
            var row = new HBox(8, new Label("candidate"), candidate);
            row.setAlignment(Pos.CENTER_LEFT);
            nodes.add(row);
        }
        if (history.entries().isEmpty()) {
            nodes.add(words("No version has a figure of " + looked.metric().label() + ".", "fact"));
            return nodes;
        }
        int index = Math.max(0, study.indexOf(candidate.getValue()));
        var figure = new Figure("versions and levels of " + looked.metric().label(),
                HistoryFigure.chart(looked.theme(), index, history));
        VBox.setVgrow(figure, Priority.ALWAYS);
        nodes.add(figure);
        String who = new CandidateMark(index).letter() + ": ";
        nodes.add(words(history.steps().isEmpty()
                ? who + (history.entries().size() < kadrem.core.stats.ChangePoints.FEWEST
                        ? history.entries().size() + (history.entries().size() == 1 ? " version" : " versions")
                                + "; a change shows from "
                                + kadrem.core.stats.ChangePoints.FEWEST + " on."
                        : "no change of level over " + history.entries().size() + " versions.")
                : who + String.join("; ", history.steps().stream().map(history::sentence).toList()) + ".", "fact"));
        nodes.add(words(
                "Each run a faint mark, the centre of a version a full one. Levels by PELT on the versions' centres (Killick,"
                        + " Fearnhead, Eckley 2012); the size of a step compares the runs before and after it unpaired, since they were"
                        + " measured at different times." + (there.unreadable().isEmpty()
                                ? ""
                                : "\n" + String.join("\n", there.unreadable())),
                "muted"));
        study.candidate(candidate.getValue()).filter(one -> one.launch().isPresent()).ifPresent(one -> nodes
                .add(beside("kadrem regress . --candidate "
                        + one.id() + " --before " + quoted(history.entries().getLast().version()) + " --after HEAD")));
        return nodes;
    }

    private static String quoted(String word) {
        return word.matches("[\\w./@:+-]+") ? word : "'" + word.replace("'", "'\\''") + "'";
    }

    /** The command that decides between the latest version and the present commit, to be copied into a shell. */
    private static Node beside(String command) {
        var text = new TextField(command);
        text.setEditable(false);
        text.setId("history-command");
        text.setAccessibleText("command that measures two versions beside each other");
        text.getStyleClass().add("code-field");
        HBox.setHgrow(text, Priority.ALWAYS);
        var copy = new Button("Copy");
        copy.setId("copy-history-command");
        copy.getStyleClass().add("small-button");
        copy.setOnAction(_ -> {
            var content = new ClipboardContent();
            content.putString(command);
            Clipboard.getSystemClipboard().setContent(content);
        });
        var told = new Label("To compare in pairs, from the study's folder:");
        told.setMinWidth(Region.USE_PREF_SIZE);
        var row = new HBox(8, told, text, copy);
        row.setAlignment(Pos.CENTER_LEFT);
        return row;
    }

    private static Known read(StudyFile file, Metric metric) {
        try {
            HistoryFile.Found found = HistoryFile.read(file.folder());
            List<String> candidates = found.entries().stream().map(History.Entry::candidate).distinct()
                    .filter(id -> file.study().candidate(id).isPresent()).toList();
            return new Known(candidates.stream().map(id -> History.of(metric, found.of(id))).toList(), candidates,
                    found.unreadable());
        } catch (IOException cause) {
            throw new UncheckedIOException(cause);
        }
    }

    private static Label words(String text, String style) {
        var label = new Label(text);
        label.setWrapText(true);
        if (!style.equals("muted")) {
            label.setId("history-words");
        }
        label.getStyleClass().add(style);
        return label;
    }
}
