package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Consumer;
import java.util.stream.Collectors;

import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.core.study.WatchSource;
import kadrem.core.study.Written;
import kadrem.desk.Session;
import kadrem.files.study.Edit;
import kadrem.load.gate.Consent;
import kadrem.load.drive.Secrets;
import kadrem.load.host.HostSources;
import kadrem.load.host.SourceFailure;
import kadrem.load.host.SourceTrial;
import kadrem.load.host.remote.HostKeys;
import kadrem.load.host.remote.SshHost;
import kadrem.load.host.remote.UnknownHostKey;

/** What is watched during a candidate's runs, a line each, tried in place; an unknown SSH host's key is asked about here. */
final class WatchPane {
    private static final int MOST_SERIES_SHOWN = 4;

    private final Session session;
    private final Consumer<List<Edit>> editing;
    private final Runnable changed;
    private final HostKeys keys = HostKeys.ofUser();
    /** What trying a source came to, by candidate and what was tried. */
    private final Map<String, Tried> tried = new HashMap<>();

    /** @param unknown the key that the user is asked about */
    private record Tried(String words, boolean good, Optional<UnknownHostKey> unknown) {
    }

    /**
     * @param editing takes edits of the study
     * @param changed told on the interface thread when a trial has ended
     */
    WatchPane(Session session, Consumer<List<Edit>> editing, Runnable changed) {
        this.session = session;
        this.editing = editing;
        this.changed = changed;
    }

    /**
     * The lines of a candidate.
     *
     * @param index its place in the study
     * @param launched its process that was launched here, where there is one
     */
    Node of(Candidate candidate, int index, OptionalLong launched) {
        var box = new VBox(6);
        for (int i = 0; i <= candidate.watch().size(); i++) {
            Optional<WatchSource> source = i < candidate.watch().size()
                    ? Optional.of(candidate.watch().get(i))
                    : Optional.empty();
            box.getChildren().add(field(candidate, index, i, source));
            source.ifPresent(one -> box.getChildren().addAll(trial(candidate, one, launched)));
        }
        return box;
    }

    private TextField field(Candidate candidate, int index, int place, Optional<WatchSource> source) {
        String text = source.map(WatchText::write).orElse("");
        var field = new TextField(text);
        field.setId("watch-" + place + "-" + candidate.id());
        field.setPromptText(place == 0 ? WatchText.HINT : "one more");
        field.setAccessibleText("what is watched for " + candidate.name() + ", line " + (place + 1));
        field.setTooltip(new Tooltip(text.isEmpty() ? WatchText.HINT : text));
        field.getStyleClass().addAll("fact-field", "same");
        Runnable commit = () -> {
            if (field.getScene() != null && !field.getText().strip().equals(text)) {
                editing.accept(edits("candidates[" + index + "].watch", place, source.isPresent(),
                        WatchText.read(field.getText(), source)));
            }
        };
        field.setOnAction(_ -> commit.run());
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                commit.run();
            }
        });
        return field;
    }

    private static List<Edit> edits(String path, int place, boolean takeOut, Optional<Map<String, Object>> group) {
        var edits = new ArrayList<Edit>();
        if (takeOut) {
            edits.add(new Edit.Remove(path, place));
        }
        group.ifPresent(one -> edits.add(new Edit.Insert(path, place, one)));
        return edits;
    }

    private List<Node> trial(Candidate candidate, WatchSource source, OptionalLong launched) {
        String key = key(candidate, source);
        var button = new Button("Try it");
        button.getStyleClass().add("small-button");
        button.setId("try-watch-" + candidate.id() + "-" + source.name().replace(' ', '-'));
        button.setOnAction(_ -> tryIt(key, source, launched, button));
        var line = new FlowPane(8, 4, button);
        Tried found = tried.get(key);
        if (found == null) {
            return List.of(line);
        }
        var words = new Label(found.words());
        words.setWrapText(true);
        words.getStyleClass().add(found.good() ? "fact" : "problem");
        words.setId("tried-" + candidate.id() + "-" + source.name().replace(' ', '-'));
        found.unknown().ifPresent(unknown -> {
            var accept = new Button("It is the right key");
            accept.getStyleClass().add("small-button");
            accept.setId("accept-key-" + candidate.id());
            accept.setOnAction(_ -> {
                keys.accept(unknown.host(), unknown.port(), unknown.key());
                tryIt(key, source, launched, button);
            });
            line.getChildren().add(accept);
        });
        return List.of(line, words);
    }

    private static String key(Candidate candidate, WatchSource source) {
        return candidate.id() + " " + WatchText.write(source);
    }

    private void tryIt(String key, WatchSource source, OptionalLong launched, Button button) {
        session.state().ifPresent(state -> {
            var folder = state.file().folder();
            if (!Consent.ofUser().asks(state.study(), folder).isAllowed()) {
                tried.put(key, new Tried("waits for your word; what the study would do stands above", false,
                        Optional.empty()));
                changed.run();
                return;
            }
            button.setDisable(true);
            button.setText("Trying …");
            var sources = new HostSources(folder, Secrets.ofProcess(folder), keys, () -> launched);
            Thread.ofVirtual().start(() -> {
                Tried found = found(source, sources);
                Platform.runLater(() -> {
                    tried.put(key, found);
                    changed.run();
                });
            });
        });
    }

    private Tried found(WatchSource source, HostSources sources) {
        try {
            if (source instanceof WatchSource.RemoteHost remote) {
                Optional<UnknownHostKey> unknown = SshHost.unknownKey(remote, keys);
                if (unknown.isPresent()) {
                    return new Tried("This host is met for the first time. Its key is " + unknown.get().fingerprint()
                            + ". Compare it with what the host's keeper says.", false, unknown);
                }
            }
            SourceTrial trial = SourceTrial.of(sources.of(source));
            return trial.trouble().isPresent()
                    ? new Tried("tells nothing: " + trial.trouble().get(), false, Optional.empty())
                    : new Tried(words(trial), true, Optional.empty());
        } catch (SourceFailure failure) {
            return new Tried("tells nothing: " + failure.reason(), false, Optional.empty());
        } catch (InterruptedException _) {
            return new Tried("interrupted", false, Optional.empty());
        }
    }

    private static String words(SourceTrial trial) {
        int more = trial.values().size() - MOST_SERIES_SHOWN;
        return trial.values().size() + " series, read in " + Written.duration(trial.took().toNanos()) + ": "
                + trial.values().stream().limit(MOST_SERIES_SHOWN)
                        .map(one -> one.series().name() + " "
                                + Written.quantity(one.value(), one.series().unit()))
                        .collect(Collectors.joining(" · "))
                + (more > 0 ? " and " + more + " more" : "");
    }
}
