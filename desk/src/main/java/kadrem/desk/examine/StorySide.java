package kadrem.desk.examine;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.examine.Occurrence;
import kadrem.core.study.Annotation;
import kadrem.core.study.Candidate;
import kadrem.desk.Session;
import kadrem.desk.run.RunStory;
import kadrem.files.study.Edit;

/** What happened in each run, what was noted of it, and whether it is sound, with the rules and their limits. */
final class StorySide implements ExamineSide {
    private static final double SECOND_WIDTH = 64;

    private final Session session;
    private final Consumer<String> rejected;
    /** Notes that are not finished, by run: second and text. */
    private final Map<String, String[]> drafts = new HashMap<>();

    StorySide(Session session, Consumer<String> rejected) {
        this.session = session;
        this.rejected = rejected;
    }

    @Override
    public List<Node> show(Looked looked) {
        var runs = new VBox(18);
        looked.runs().forEach(run -> runs.getChildren().add(run(looked, run)));
        var scroll = new ScrollPane(runs);
        scroll.setFitToWidth(true);
        scroll.getStyleClass().add("plain-scroll");
        VBox.setVgrow(scroll, Priority.ALWAYS);
        return List.of(scroll);
    }

    private Node run(Looked looked, Examined run) {
        var heading = new Label(run.name() + ", " + looked.state().study().candidate(run.run().candidate())
                .map(Candidate::name).orElse(run.run().candidate()) + ", round " + run.run().round());
        heading.getStyleClass().add("section-heading");
        var box = new VBox(4, heading);
        List<Occurrence> occurrences = run.occurrences();
        if (occurrences.isEmpty() && run.signatures().isEmpty()) {
            box.getChildren().add(RunStory.words("Nothing out of the ordinary happened.", "muted"));
        }
        occurrences.forEach(one -> box.getChildren().add(RunStory.words("• " + one.sentence() + ".",
                one.weight() == Occurrence.Weight.DOUBT ? "problem" : "fact")));
        box.getChildren().addAll(notes(looked, run));
        var story = new RunStory(session, rejected);
        story.show(looked.state(), run.run());
        story.tell(run.signatures());
        box.getChildren().add(story.view());
        return box;
    }

    /** The annotations of a run, each with a way to take it back, and fields for another. */
    private List<Node> notes(Looked looked, Examined run) {
        List<Annotation> all = looked.state().study().annotations();
        List<Node> nodes = new ArrayList<>();
        for (int i = 0; i < all.size(); i++) {
            Annotation note = all.get(i);
            if (note.run().equals(run.run().id())) {
                int place = i;
                var words = RunStory.words("✎ " + note.second() + " s: " + note.text(), "fact");
                var gone = new Button("Take back");
                gone.getStyleClass().add("small-button");
                gone.setOnAction(_ -> edit(new Edit.Remove("annotations", place)));
                var line = new HBox(10, words, gone);
                line.setAlignment(Pos.CENTER_LEFT);
                nodes.add(line);
            }
        }
        String[] draft = drafts.computeIfAbsent(run.run().id(), _ -> new String[]{"", ""});
        var second = new TextField(!draft[0].isEmpty() || looked.selection().isWholeTime()
                ? draft[0]
                : Integer.toString(looked.selection().from()));
        second.textProperty().addListener((_, _, now) -> draft[0] = now);
        second.setPromptText("second");
        second.setId("note-second-" + run.name());
        second.setAccessibleText("second of the note on " + run.name());
        second.setPrefWidth(SECOND_WIDTH);
        second.setMinWidth(Region.USE_PREF_SIZE);
        var text = new TextField(draft[1]);
        text.textProperty().addListener((_, _, now) -> draft[1] = now);
        text.setPromptText("what happened then, as far as you know");
        text.setId("note-text-" + run.name());
        text.setAccessibleText("text of the note on " + run.name());
        HBox.setHgrow(text, Priority.ALWAYS);
        var add = new Button("Note it");
        add.getStyleClass().add("small-button");
        add.setId("note-add-" + run.name());
        add.disableProperty().bind(text.textProperty().isEmpty().or(second.textProperty().isEmpty()));
        Runnable keep = () -> second(second.getText()).ifPresentOrElse(at -> {
            drafts.remove(run.run().id());
            edit(new Edit.Insert("annotations", all.size(),
                    Map.of("run", run.run().id(), "second", Integer.toString(at), "text", text.getText().strip())));
        },
                () -> rejected.accept("A note needs the second at which it happened, such as 12."));
        add.setOnAction(_ -> keep.run());
        text.setOnAction(_ -> {
            if (!add.isDisabled()) {
                keep.run();
            }
        });
        var line = new HBox(8, second, text, add);
        line.setAlignment(Pos.CENTER_LEFT);
        nodes.add(line);
        return nodes;
    }

    private static Optional<Integer> second(String text) {
        return text.strip().matches("\\d{1,7}") ? Optional.of(Integer.parseInt(text.strip())) : Optional.empty();
    }

    private void edit(Edit edit) {
        session.edit(List.of(edit), rejected);
    }
}
