package kadrem.desk.compare;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.util.StringConverter;
import kadrem.core.stats.ChangePoints;
import kadrem.core.study.Candidate;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.verdict.History;
import kadrem.desk.chart.Figure;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.Later;
import kadrem.files.history.HistoryFile;
import kadrem.files.study.StudyFile;
import kadrem.figures.HistoryFigure;

/** A metric of a candidate over its versions, and where it changed; two versions are measured beside each other from here. */
final class HistorySide implements CompareSide {
    private final Later<Key, Known> histories;
    private final ComboBox<String> candidate = new ComboBox<>();
    private final VersionsForm versions;

    /** What the history is read for; read again with every new state of the study, and when it was written. */
    private record Key(StudyFile file, Metric metric, long written) {
    }

    /** A history for each candidate of the study. */
    private record Known(List<History> histories, List<String> unreadable) {
    }

    /**
     * @param again told when another candidate is looked at, or the history is there
     * @param measure measures two versions
     */
    HistorySide(Runnable again, VersionsForm.Measure measure) {
        histories = new Later<>(again);
        versions = new VersionsForm(measure, again);
        candidate.setId("history-candidate");
        candidate.setAccessibleText("candidate whose versions are shown");
        candidate.setOnAction(_ -> again.run());
    }

    @Override
    public List<Node> show(Looked looked) {
        Study study = looked.study();
        StudyFile file = looked.state().file();
        Optional<Known> known = histories.of(
                new Key(file, looked.metric(), HistoryFile.writtenMillis(file.folder())),
                () -> read(file, looked.metric()));
        if (known.isEmpty()) {
            return List.of(histories.problem().isEmpty()
                    ? words("Reading the history …", "muted")
                    : words("The history cannot be read (" + histories.problem() + "); everything else stays.",
                            "problem"));
        }
        Known there = known.get();
        List<String> candidates = study.candidates().stream().map(Candidate::id).toList();
        if (!candidate.getItems().equals(candidates)) {
            candidate.setConverter(names(study));
            candidate.setItems(FXCollections.observableArrayList(candidates));
            candidate.setValue(there.histories().stream().filter(one -> !one.entries().isEmpty()).findFirst()
                    .map(one -> candidates.get(there.histories().indexOf(one))).orElse(candidates.getFirst()));
        }
        int index = Math.max(0, candidates.indexOf(candidate.getValue()));
        History history = there.histories().get(index);
        var row = new HBox(8, new Label("candidate"), candidate);
        row.setAlignment(Pos.CENTER_LEFT);
        var nodes = new ArrayList<Node>(List.of(row));
        if (history.entries().isEmpty()) {
            nodes.add(words("No version of this candidate has a figure of " + looked.metric().label()
                    + " yet. Two versions that are measured below are kept here, and so are those of kadrem regress; kadrem"
                    + " history STUDY --add VERSION keeps the runs of this study as a version. A change shows from "
                    + ChangePoints.MIN + " versions on.", "fact"));
        } else {
            draw(looked, history, index, nodes);
        }
        history.unreachedSentence().ifPresent(sentence -> nodes.add(words(sentence + ".", "fact")));
        if (!there.unreadable().isEmpty()) {
            nodes.add(words(String.join("\n", there.unreadable()), "muted"));
        }
        nodes.add(versions.show(file.folder(), study.candidates().get(index),
                history.entries().isEmpty() ? "HEAD~1" : history.entries().getLast().version()));
        return nodes;
    }

    private static void draw(Looked looked, History history, int index, List<Node> nodes) {
        var figure = new Figure("versions and levels of " + looked.metric().label(),
                HistoryFigure.chart(looked.theme(), index, history));
        VBox.setVgrow(figure, Priority.ALWAYS);
        nodes.add(figure);
        String who = new CandidateMark(index).letter() + ": ";
        nodes.add(words(history.steps().isEmpty()
                ? who + (history.entries().size() < ChangePoints.MIN
                        ? history.entries().size() + (history.entries().size() == 1 ? " version" : " versions")
                                + "; a change shows from " + ChangePoints.MIN + " on."
                        : "no change of level over " + history.entries().size() + " versions.")
                : who + String.join("; ", history.steps().stream().map(history::sentence).toList()) + ".", "fact"));
        nodes.add(words(
                "Each run a faint mark, the centre of a version a full one. Levels by PELT on the versions' centres (Killick,"
                        + " Fearnhead, Eckley 2012); the size of a step compares the sittings before and after it, unpaired (Kalibera,"
                        + " Jones 2013); the runs of one sitting count as one.",
                "muted"));
    }

    private static StringConverter<String> names(Study study) {
        return new StringConverter<>() {
            @Override
            public String toString(String id) {
                int index = study.indexOf(id);
                return index < 0
                        ? ""
                        : new CandidateMark(index).letter() + "  " + study.candidates().get(index).name();
            }

            @Override
            public String fromString(String name) {
                throw new UnsupportedOperationException("a candidate is chosen, not typed");
            }
        };
    }

    private static Known read(StudyFile file, Metric metric) {
        try {
            HistoryFile.Found found = HistoryFile.read(file.folder());
            return new Known(file.study().candidates().stream().map(one -> History.of(metric, found.of(one.id())))
                    .toList(), found.unreadable());
        } catch (IOException cause) {
            throw new UncheckedIOException(cause);
        }
    }

    private static Label words(String text, String style) {
        var label = new Label(text);
        label.setWrapText(true);
        label.setMinHeight(Region.USE_PREF_SIZE);
        if (!style.equals("muted")) {
            label.setId("history-words");
        }
        label.getStyleClass().add(style);
        return label;
    }
}
