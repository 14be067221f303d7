package kadrem.desk.compare;

import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.input.Clipboard;
import javafx.scene.input.ClipboardContent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.work.Order;

/** Two versions of a candidate that are to be measured beside each other. */
final class VersionsForm {
    private static final String COMMITS = "two commits";
    private static final String COMMANDS = "two launch commands";

    private static final double KIND_WIDTH = 185;

    private final Measure measure;
    private final Runnable again;
    private final ChoiceBox<String> kind = new ChoiceBox<>();
    private final TextField before = field("before", "earlier version");
    private final TextField after = field("after", "later version");
    private final Label builtBy = new Label("built by");
    private final TextField build = field("build", "shell command that builds a commit");
    private final Button begin = new Button("Measure both");
    private final Button copy = new Button("Copy as a command");
    private final Label told = new Label();
    private final VBox view;
    /** What came of it; as long as the window is open. */
    private final Map<Of, String> outcomes = new HashMap<>();
    private Of of = new Of(Path.of(""), "");
    private String usualCommit = "";
    private String usualCommand = "";

    /** A candidate of the study in a folder. */
    private record Of(Path study, String candidate) {
    }

    /** Measures two versions. */
    interface Measure {
        /** @param told given what came of it */
        void both(String candidate, Order.Pair versions, Consumer<String> told);
    }

    /** @param again told when something came of a measurement */
    VersionsForm(Measure measure, Runnable again) {
        this.measure = measure;
        this.again = again;
        kind.getItems().addAll(COMMITS, COMMANDS);
        kind.setValue(COMMITS);
        kind.setId("versions-kind");
        kind.setAccessibleText("what the versions are");
        kind.setPrefWidth(KIND_WIDTH);
        kind.setOnAction(_ -> propose());
        build.setPromptText("mvn -q package");
        build.setTooltip(
                new Tooltip("Shell command that builds a commit, run in the top folder of its files; blank where"
                        + " nothing is to be built"));
        begin.setId("measure-versions");
        begin.setOnAction(_ -> begin());
        begin.setTooltip(new Tooltip(
                "Launches both in turn, in the rounds of the plan, and keeps them in the history. Commits are checked out"
                        + " beside the repository's own files, which are not touched."));
        copy.setId("copy-history-command");
        copy.getStyleClass().add("small-button");
        copy.setOnAction(_ -> {
            var content = new ClipboardContent();
            content.putString(command());
            Clipboard.getSystemClipboard().setContent(content);
        });
        told.setId("versions-told");
        told.setWrapText(true);
        told.setMinHeight(Region.USE_PREF_SIZE);
        told.managedProperty().bind(told.textProperty().isNotEmpty());
        var heading = new Label("Measure two versions beside each other");
        heading.getStyleClass().add("section-heading");
        var what = new HBox(8, kind, new Label("before"), before, new Label("after"), after, builtBy, build,
                begin,
                copy);
        what.setAlignment(Pos.CENTER_LEFT);
        what.getChildren().stream().filter(one -> !(one instanceof TextField))
                .forEach(one -> ((Region) one).setMinWidth(Region.USE_PREF_SIZE));
        HBox.setHgrow(build, Priority.ALWAYS);
        before.textProperty().subscribe(this::name);
        after.textProperty().subscribe(this::name);
        view = new VBox(6, heading, what, told);
        name();
    }

    private static TextField field(String id, String accessible) {
        var field = new TextField();
        field.setId("versions-" + id);
        field.setAccessibleText(accessible);
        field.getStyleClass().add("code-field");
        field.setPrefColumnCount(9);
        return field;
    }

    /**
     * @param study the study's folder
     * @param usual the version that is proposed as the earlier one
     */
    Node show(Path study, Candidate one, String usual) {
        var now = new Of(study, one.id());
        if (!of.equals(now)) {
            of = now;
            usualCommit = usual;
            usualCommand = one.launch().map(launch -> launch.command().stream()
                    .map(word -> word.contains(" ") ? '"' + word + '"' : word).collect(Collectors.joining(" ")))
                    .orElse("");
            propose();
        }
        boolean isLaunched = one.launch().isPresent();
        view.getChildren().get(1).setDisable(!isLaunched);
        told.setText(isLaunched
                ? outcomes.getOrDefault(of, "")
                : "The study does not say how to launch this candidate, so that its versions cannot be measured beside"
                        + " each other. Its launch is written under Candidates.");
        return view;
    }

    private void propose() {
        before.setText(areCommits() ? usualCommit : usualCommand);
        after.setText(areCommits() ? "HEAD" : usualCommand);
        name();
    }

    private boolean areCommits() {
        return COMMITS.equals(kind.getValue());
    }

    private void name() {
        // a command is longer than the name of a commit
        HBox.setHgrow(before, areCommits() ? Priority.NEVER : Priority.ALWAYS);
        HBox.setHgrow(after, areCommits() ? Priority.NEVER : Priority.ALWAYS);
        for (Region one : List.of(builtBy, build)) {
            one.setVisible(areCommits());
            one.setManaged(areCommits());
        }
        begin.setDisable(before.getText().isBlank() || after.getText().isBlank());
        copy.setDisable(begin.isDisabled());
    }

    private void begin() {
        Of asking = of;
        String earlier = before.getText().strip();
        String later = after.getText().strip();
        Order.Pair versions = areCommits()
                ? new Order.Commits(earlier, later, Optional.empty(),
                        Optional.of(build.getText().strip()).filter(command -> !command.isEmpty()))
                : new Order.Commands(earlier, later);
        measure.both(asking.candidate(), versions, words -> {
            outcomes.put(asking, words);
            again.run();
        });
    }

    /** The same for a shell in the study's folder. */
    private String command() {
        String kindOf = areCommits() ? "" : "-command";
        return Stream.of(List.of("kadrem", "regress", ".", "--candidate", of.candidate(), "--before" + kindOf,
                before.getText().strip(), "--after" + kindOf, after.getText().strip()),
                Optional.of(build.getText().strip()).filter(text -> areCommits() && !text.isEmpty())
                        .map(text -> List.of("--build", text)).orElse(List.of()))
                .flatMap(List::stream).map(VersionsForm::quoted).collect(Collectors.joining(" "));
    }

    private static String quoted(String word) {
        return word.matches("[\\w./@:~^+-]+") ? word : "'" + word.replace("'", "'\\''") + "'";
    }
}
