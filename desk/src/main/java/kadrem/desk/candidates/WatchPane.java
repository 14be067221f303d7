package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Collectors;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.core.study.WatchSource;
import kadrem.core.study.Written;
import kadrem.core.study.grammar.Group;
import kadrem.desk.Session;
import kadrem.desk.form.FormPane;
import kadrem.desk.look.Background;
import kadrem.load.drive.Secrets;
import kadrem.load.host.HostSources;
import kadrem.load.host.SourceFailure;
import kadrem.load.host.SourceTrial;
import kadrem.load.host.remote.HostKeys;
import kadrem.load.host.remote.SshHost;
import kadrem.load.host.remote.UnknownHostKey;

/** What is watched during a candidate's runs, a line each, tried in place; an unknown SSH host's key is asked about here. */
final class WatchPane {
    private static final String WATCH = "watch";
    private static final int MAX_SERIES_SHOWN = 4;

    private final Session session;
    private final FormPane form;
    private final Putting putting;
    private final Runnable changed;
    private final HostKeys keys = HostKeys.ofUser();
    /** What trying a source came to, by candidate and what was tried. */
    private final Map<String, Tried> tried = new HashMap<>();

    /** @param unknown the key that the user is asked about */
    record Tried(String words, boolean good, Optional<UnknownHostKey> unknown) {
    }

    /** Takes what a field of a candidate is to say. */
    interface Putting {
        /** @param done told when the study has it */
        void put(Candidate candidate, String field, Optional<Object> value, Runnable done);
    }

    /**
     * @param form where a source is described
     * @param putting takes the list of sources
     * @param changed told on the interface thread when a trial has ended
     */
    WatchPane(Session session, FormPane form, Putting putting, Runnable changed) {
        this.session = session;
        this.form = form;
        this.putting = putting;
        this.changed = changed;
    }

    /** What came of the tries so far; another map after each. */
    Map<String, Tried> tries() {
        return Map.copyOf(tried);
    }

    /**
     * The lines of a candidate.
     *
     * @param launched its process that was launched here, where there is one
     */
    Node of(Session.State state, Candidate candidate, OptionalLong launched) {
        var box = new VBox(6);
        Optional<Group> group = Optional.ofNullable(state.file().grammar().group("candidates").all().get(WATCH))
                .flatMap(field -> field.kind().below());
        for (int i = 0; i < candidate.watch().size(); i++) {
            WatchSource source = candidate.watch().get(i);
            int place = i;
            group.ifPresent(one -> box.getChildren().add(line(candidate, source, place, one)));
            box.getChildren().addAll(trial(candidate, source, launched));
        }
        group.ifPresent(one -> {
            var more = small("Watch something more…", "watch-more-" + candidate.id());
            more.setAccessibleText("watch something more for " + candidate.name());
            more.setOnAction(_ -> open(candidate, candidate.watch().size(), one));
            box.getChildren().add(more);
        });
        return box;
    }

    private Node line(Candidate candidate, WatchSource source, int place, Group group) {
        var words = new Label(words(source));
        words.setWrapText(true);
        var change = small("Change", "watch-" + place + "-" + candidate.id());
        change.setAccessibleText("change what is watched: " + words(source));
        change.setOnAction(_ -> open(candidate, place, group));
        var gone = small("Remove", "unwatch-" + place + "-" + candidate.id());
        gone.setAccessibleText("do not watch " + words(source));
        gone.setOnAction(_ -> put(candidate, place, Optional.empty()));
        return new VBox(3, words, new HBox(6, change, gone));
    }

    private static Button small(String text, String id) {
        var button = new Button(text);
        button.getStyleClass().add("small-button");
        button.setId(id);
        return button;
    }

    private static String words(WatchSource source) {
        return source.kind() + " " + source.where() + (source.name().equals(source.kind()) ? "" : ", " + source.name());
    }

    /** The sources as the file has them. */
    private List<Object> written(Candidate candidate) {
        return session.state()
                .flatMap(state -> state.file()
                        .written("candidates[" + state.study().indexOf(candidate.id()) + "]." + WATCH))
                .filter(List.class::isInstance).<List<Object>>map(list -> new ArrayList<>((List<?>) list))
                .orElseGet(ArrayList::new);
    }

    private void open(Candidate candidate, int place, Group group) {
        List<Object> all = written(candidate);
        form.open("What is watched for " + candidate.name(), group, place < all.size() ? all.get(place) : Map.of(),
                "form-" + WATCH, value -> put(candidate, place, value));
    }

    private void put(Candidate candidate, int place, Optional<Object> value) {
        List<Object> all = written(candidate);
        if (place < all.size()) {
            all.remove(place);
        }
        value.ifPresent(one -> all.add(Math.min(place, all.size()), one));
        putting.put(candidate, WATCH, all.isEmpty() ? Optional.empty() : Optional.of(all), form::close);
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
        return candidate.id() + " " + source;
    }

    private void tryIt(String key, WatchSource source, OptionalLong launched, Button button) {
        session.state().ifPresent(state -> {
            var folder = state.file().folder();
            if (!state.asked().isAllowed()) {
                tried.put(key, new Tried("waits for your word; what the study would do stands above", false,
                        Optional.empty()));
                changed.run();
                return;
            }
            button.setDisable(true);
            button.setText("Trying …");
            var sources = new HostSources(folder, Secrets.ofProcess(folder), keys, () -> launched);
            Background.AT_ONCE.run(() -> found(source, sources), found -> {
                tried.put(key, found);
                changed.run();
            }, cause -> {
                tried.put(key, new Tried("cannot be tried: " + cause.getMessage(), false, Optional.empty()));
                changed.run();
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
        int more = trial.values().size() - MAX_SERIES_SHOWN;
        return trial.values().size() + " series, read in " + Written.duration(trial.took().toNanos()) + ": "
                + trial.values().stream().limit(MAX_SERIES_SHOWN)
                        .map(one -> one.series().name() + " "
                                + Written.quantity(one.value(), one.series().unit()))
                        .collect(Collectors.joining(" · "))
                + (more > 0 ? " and " + more + " more" : "");
    }
}
