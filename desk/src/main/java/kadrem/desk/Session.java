package kadrem.desk;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;

import javafx.application.Platform;
import javafx.beans.binding.Bindings;
import javafx.beans.binding.BooleanBinding;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.ReadOnlyObjectWrapper;
import javafx.collections.FXCollections;
import javafx.collections.ObservableList;
import kadrem.core.measure.Capacity;
import kadrem.core.measure.RunRecord;
import kadrem.core.plan.LoadDigest;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.NoiseFloor;
import kadrem.core.verdict.Verdict;
import kadrem.files.run.StudyLock;
import kadrem.files.compare.Results;
import kadrem.files.run.RunFolders;
import kadrem.files.study.Edit;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.gate.Consent;
import kadrem.load.campaign.Leftovers;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The study that the window shows, and every change of it. Files are read and written on one background thread; the
 * properties change on the interface thread, and all methods are called on it.
 */
public final class Session implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Session.class);

    private final ExecutorService files = Executors
            .newSingleThreadExecutor(Thread.ofPlatform().name("kadrem-files").daemon().factory());
    private final ReadOnlyObjectWrapper<Optional<State>> state = new ReadOnlyObjectWrapper<>(Optional.empty());
    private final ReadOnlyObjectWrapper<Optional<String>> problem = new ReadOnlyObjectWrapper<>(Optional.empty());
    private final ObservableList<StudyFile> undo = FXCollections.observableArrayList();
    private final ObservableList<StudyFile> redo = FXCollections.observableArrayList();
    private Optional<Path> folder = Optional.empty();
    /** Text of the file when it was last found changed outside; files thread only. */
    private String lastSeen = "";
    /** The study as last edited, which may be a moment ahead of what is shown. */
    private Optional<StudyFile> edited = Optional.empty();
    /** The study as it was last read or saved, to which an edit that cannot be saved goes back. */
    private Optional<StudyFile> saved = Optional.empty();
    /** What this machine can make, by digest of workload and load. */
    private final Map<String, Capacity> capacities = new HashMap<>();

    /**
     * The study with its runs and what follows from them.
     *
     * @param rehearsal the last rehearsal that is kept with the study
     * @param runs judged under the study's limits of soundness
     * @param digest digest of workload and load, by which runs from before an edit are told apart
     * @param floor how much a candidate differs from itself, if that was measured
     * @param verdict what follows from the comparison
     */
    public record State(StudyFile file, List<RunRecord> runs, List<String> unreadable, Comparison comparison,
            Optional<Rehearsal> rehearsal, String digest, Optional<NoiseFloor> floor, Verdict verdict) {
        /** The rehearsal of the present workload, if there was one. */
        public Optional<Rehearsal> presentRehearsal() {
            return rehearsal.filter(one -> one.loadDigest().equals(digest));
        }

        public Study study() {
            return file.study();
        }

        /** This state with another text of the study, until what follows from it is known. */
        State with(StudyFile changed) {
            return new State(changed, runs, unreadable, comparison, rehearsal, LoadDigest.of(changed.study()), floor,
                    verdict);
        }

        /** Runs made under the present workload and load. */
        public List<RunRecord> presentRuns() {
            return runs.stream().filter(run -> run.studyDigest().equals(digest)).toList();
        }
    }

    public ReadOnlyObjectProperty<Optional<State>> stateProperty() {
        return state.getReadOnlyProperty();
    }

    /** What keeps the study from being read or changed, in words. */
    public ReadOnlyObjectProperty<Optional<String>> problemProperty() {
        return problem.getReadOnlyProperty();
    }

    public Optional<State> state() {
        return state.get();
    }

    public Optional<Path> folder() {
        return folder;
    }

    /** Opens a study in place of the one that is open, clearing up what a Kadrem that was killed left behind. */
    public void open(Path studyFolder) {
        folder = Optional.of(studyFolder);
        edited = Optional.empty();
        undo.clear();
        redo.clear();
        inBackground(() -> {
            StudyFile file = StudyFile.read(studyFolder);
            var store = new RunFolders(file.folder());
            if (StudyLock.isFree(file.folder())) {
                Leftovers.clear(store, Clock.systemUTC().instant());
            }
            return load(file);
        }, this::show);
    }

    /** Reads the runs again, as after a run has ended. */
    public void refresh() {
        present().ifPresent(file -> inBackground(() -> load(file), this::showUnlessOutdated));
    }

    /** Looks whether the file was changed by another program, and reads it again if so; called now and then. */
    public void noticeOutsideChange() {
        present().ifPresent(known -> inBackground(() -> {
            String text = Files.readString(known.folder().resolve(StudyFile.NAME));
            if (text.equals(known.text()) || text.equals(lastSeen)) {
                return Optional.<State>empty();
            }
            lastSeen = text;
            return Optional.of(load(StudyFile.read(known.folder())));
        }, read -> read.filter(_ -> present().filter(known::equals).isPresent()).ifPresent(state -> {
            edited = Optional.of(state.file());
            undo.addLast(known);
            redo.clear();
            show(state);
        })));
    }

    /** Reads the study file again, as after it was mended outside. */
    public void reread() {
        folder.ifPresent(this::open);
    }

    private static State load(StudyFile file) throws StudyException {
        Results results = Results.of(file);
        return new State(file, results.runs(), results.unreadable(), results.comparison(), results.rehearsal(),
                LoadDigest.of(file.study()), results.floor(), results.verdict());
    }

    /** What load this machine can make with the study as it is; empty before a self-check. */
    public Optional<Capacity> capacity(State state) {
        return Optional.ofNullable(capacities.get(state.digest()));
    }

    /** Keeps what a self-check of a study in that state found, as long as the window is open. */
    public void keepCapacity(State state, Capacity found) {
        capacities.put(state.digest(), found);
    }

    /** What was read for a study that was edited since is left out: the edit's own reading follows. */
    private void showUnlessOutdated(State loaded) {
        saved = Optional.of(loaded.file());
        if (present().filter(loaded.file()::equals).isPresent()) {
            show(loaded);
        }
    }

    private void show(State loaded) {
        saved = Optional.of(loaded.file());
        display(loaded);
    }

    private void display(State loaded) {
        problem.set(Optional.empty());
        state.set(Optional.of(loaded));
    }

    /**
     * Changes fields of the study and saves it.
     *
     * @param rejected told why, if the study would not be usable; it then stays as it is
     */
    public void edit(Map<String, String> fields, Consumer<String> rejected) {
        change(before -> before.with(fields), false, rejected);
    }

    /**
     * Changes groups of the study and saves it.
     *
     * @param rejected told why, if the study would not be usable; it then stays as it is
     */
    public void edit(List<Edit> edits, Consumer<String> rejected) {
        change(before -> before.with(edits), true, rejected);
    }

    private interface Change {
        StudyFile of(StudyFile before) throws StudyException;
    }

    private void change(Change change, boolean withPath, Consumer<String> rejected) {
        present().ifPresent(before -> {
            StudyFile changed;
            try {
                changed = change.of(before);
            } catch (StudyException cause) {
                rejected.accept(cause.problems().isEmpty()
                        ? String.valueOf(cause.getMessage())
                        : (withPath ? cause.problems().getFirst().problem().path() + " " : "")
                                + cause.problems().getFirst().problem().what() + ". "
                                + cause.problems().getFirst().problem().mend());
                return;
            }
            if (!changed.text().equals(before.text())) {
                undo.addLast(before);
                redo.clear();
                keepWord(before, changed);
                replace(before, changed);
            }
        });
    }

    /** What the user writes into the window needs no further word, unless some of the study waits for it already. */
    private void keepWord(StudyFile before, StudyFile changed) {
        Consent consent = Consent.ofUser();
        Consent.Asked now = consent.asks(changed.study(), changed.folder());
        if (!now.isAllowed() && consent.asks(before.study(), before.folder()).isAllowed()) {
            try {
                consent.allow(now, changed.folder());
            } catch (IOException cause) {
                LOG.warn("the word for an edit could not be kept; it will be asked for", cause);
            }
        }
    }

    /** Whether there is nothing to undo, and nothing to redo. */
    public BooleanBinding nothingToUndo() {
        return Bindings.isEmpty(undo);
    }

    public BooleanBinding nothingToRedo() {
        return Bindings.isEmpty(redo);
    }

    public void undo() {
        step(undo, redo);
    }

    public void redo() {
        step(redo, undo);
    }

    private void step(List<StudyFile> from, List<StudyFile> to) {
        present().filter(_ -> !from.isEmpty()).ifPresent(before -> {
            to.addLast(before);
            replace(before, from.removeLast());
        });
    }

    private Optional<StudyFile> present() {
        return edited.or(() -> state.get().map(State::file));
    }

    /**
     * Shows the study at once, so that the next edit meets what the last one has left, and saves it, unless another program has
     * written the file since it was read.
     */
    private void replace(StudyFile before, StudyFile changed) {
        edited = Optional.of(changed);
        state.get().ifPresent(now -> display(now.with(changed)));
        inBackground(() -> {
            Path file = changed.folder().resolve(StudyFile.NAME);
            if (Files.exists(file) && !Files.readString(file).equals(before.text())) {
                throw new IOException(
                        file + " was changed by another program; this edit was not saved, so that the other"
                                + " is not lost. Make it again on what the window shows in a moment");
            }
            changed.save();
            return load(changed);
        }, this::showUnlessOutdated, () -> {
            // an edit that was made on this one fails too, and then goes back for both
            if (edited.filter(changed::equals).isPresent()) {
                edited = Optional.empty();
                state.get().ifPresent(now -> saved.ifPresent(file -> display(now.with(file))));
            }
        });
    }

    private interface Work<T> {
        T run() throws StudyException, IOException;
    }

    private <T> void inBackground(Work<T> work, Consumer<T> then) {
        inBackground(work, then, () -> {
        });
    }

    private <T> void inBackground(Work<T> work, Consumer<T> then, Runnable otherwise) {
        if (files.isShutdown()) {
            // the window was closed while a measurement ended
            return;
        }
        files.execute(() -> {
            try {
                T result = work.run();
                Platform.runLater(() -> then.accept(result));
            } catch (StudyException | IOException | UncheckedIOException cause) {
                LOG.warn("the study could not be read or written", cause);
                Platform.runLater(() -> {
                    otherwise.run();
                    // set anew, so that the same words are shown again
                    problem.set(Optional.empty());
                    problem.set(Optional.of(String.valueOf(cause.getMessage())));
                });
            }
        });
    }

    @Override
    public void close() {
        files.close();
    }
}
