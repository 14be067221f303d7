package kadrem.desk;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
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
import kadrem.core.study.MeasuredStudy;
import kadrem.core.check.StudyGrammar;
import kadrem.core.study.Protocols;
import kadrem.core.study.Study;
import kadrem.core.study.grammar.Grammar;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.NoiseFloor;
import kadrem.core.verdict.Verdict;
import kadrem.desk.look.Background;
import kadrem.files.run.StudyLock;
import kadrem.files.compare.Results;
import kadrem.files.run.RunFolders;
import kadrem.files.study.Edit;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.gate.Consent;
import kadrem.load.campaign.Leftovers;
import kadrem.load.campaign.OpenRun;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The study that the window shows, and every change of it; one file, since every change of the study goes through one queue. Files are
 * read and written, and edits are carried out, on one background thread, one after the other; the properties change on the interface
 * thread, and all methods are called on it.
 */
public final class Session implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Session.class);

    private final Grammar grammar;
    private final Background files = Background.inOrder("kadrem-files");
    private final ReadOnlyObjectWrapper<Optional<State>> state = new ReadOnlyObjectWrapper<>(Optional.empty());
    private final ReadOnlyObjectWrapper<Optional<String>> problem = new ReadOnlyObjectWrapper<>(Optional.empty());
    private final ObservableList<StudyFile> undo = FXCollections.observableArrayList();
    private final ObservableList<StudyFile> redo = FXCollections.observableArrayList();
    private Optional<Study> steppedFrom = Optional.empty();
    private Optional<Path> folder = Optional.empty();
    /** Text of the file when it was last found changed outside; files thread only. */
    private String lastSeen = "";
    /** The study with all edits so far, which may be a moment ahead of what is shown; written on the files thread only. */
    private volatile Optional<StudyFile> latest = Optional.empty();
    /** The study as the file has it; files thread only. */
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
     * @param asked what of the study has the user's word, and what waits for it
     * @param wholeRounds rounds that are measured and count
     */
    public record State(StudyFile file, List<RunRecord> runs, List<String> unreadable, Comparison comparison,
            Optional<Rehearsal> rehearsal, String digest, Optional<NoiseFloor> floor, Verdict verdict,
            Consent.Asked asked, int wholeRounds) {
        /** The rehearsal of the present workload, if there was one. */
        public Optional<Rehearsal> presentRehearsal() {
            return study().measured().flatMap(study -> rehearsal.filter(one -> one.isOf(study)));
        }

        public Study study() {
            return file.study();
        }

        /** The study, for a station that is shown only where candidates are put under a load. */
        public MeasuredStudy measured() {
            return file.measured();
        }

        /** This state with another text of the study, until what follows from it is known. */
        private State with(StudyFile changed, String itsDigest, Consent.Asked nowAsked) {
            return new State(changed, runs, unreadable, comparison, rehearsal, itsDigest, floor, verdict, nowAsked,
                    wholeRounds);
        }

        /** Runs made under the present workload and load. */
        public List<RunRecord> presentRuns() {
            return runs.stream().filter(run -> run.studyDigest().equals(digest)).toList();
        }
    }

    /** A session of studies that may use every protocol. */
    public Session() {
        this(StudyGrammar.measured(Protocols.all()));
    }

    /** @param grammar of the studies that are opened */
    Session(Grammar grammar) {
        this.grammar = grammar;
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
        undo.clear();
        redo.clear();
        inBackground(() -> {
            StudyFile file = StudyFile.read(studyFolder, grammar);
            var store = new RunFolders(file.folder());
            if (StudyLock.isFree(file.folder())) {
                Leftovers.clear(store, Clock.systemUTC().instant());
            }
            return loaded(file);
        }, this::display);
    }

    /** Reads the runs again, as after a run has ended. */
    public void refresh() {
        inBackground(() -> latest.isEmpty() ? Optional.<State>empty() : Optional.of(load(latest.get())),
                loaded -> loaded.ifPresent(this::showUnlessOutdated));
    }

    /**
     * Looks whether the file was changed by another program, and reads it again if so, or whether the user gave the word that the study
     * waited for elsewhere. Called now and then.
     */
    public void noticeOutsideChange() {
        state.get().ifPresent(shown -> inBackground(() -> {
            StudyFile known = latest.orElse(null);
            if (known == null) {
                return Optional.<Noticed>empty();
            }
            String text = Files.readString(known.folder().resolve(StudyFile.NAME));
            if (text.equals(known.text()) || text.equals(lastSeen)) {
                return shown.asked().isAllowed() || !asked(known).isAllowed()
                        ? Optional.<Noticed>empty()
                        : Optional.of(new Noticed(load(known), false));
            }
            lastSeen = text;
            return Optional.of(new Noticed(loaded(StudyFile.read(known.folder(), grammar)), true));
        }, found -> found.ifPresent(this::show)));
    }

    /** @param isOther whether the file holds another text than the one that is shown */
    private record Noticed(State state, boolean isOther) {
    }

    private void show(Noticed noticed) {
        if (noticed.isOther()) {
            state.get().map(State::file).ifPresent(undo::addLast);
            redo.clear();
            display(noticed.state());
        } else {
            showUnlessOutdated(noticed.state());
        }
    }

    /** Reads the study file again, as after it was mended outside. */
    public void reread() {
        folder.ifPresent(this::open);
    }

    /** Files thread. */
    private State loaded(StudyFile file) throws StudyException {
        State found = load(file);
        latest = Optional.of(file);
        saved = latest;
        return found;
    }

    private static State load(StudyFile file) throws StudyException {
        Results results = Results.of(file);
        return new State(file, results.runs(), results.unreadable(), results.comparison(), results.rehearsal(),
                LoadDigest.of(file.study()), results.floor(), results.verdict(), asked(file),
                file.study().measured().map(one -> OpenRun.firstOpenRound(one, results.runs()) - 1).orElse(0));
    }

    private static Consent.Asked asked(StudyFile file) {
        return Consent.ofUser().asks(file.study(), file.folder());
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
        if (latest.filter(loaded.file()::equals).isPresent()) {
            display(loaded);
        }
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
        change(before -> before.with(fields), false, rejected, () -> {
        });
    }

    /**
     * Changes places of the study and saves it.
     *
     * @param rejected told why, if the study would not be usable; it then stays as it is
     */
    public void edit(List<Edit> edits, Consumer<String> rejected) {
        edit(edits, rejected, () -> {
        });
    }

    /** @param done told when the change is shown, before it is saved */
    public void edit(List<Edit> edits, Consumer<String> rejected, Runnable done) {
        change(before -> before.with(edits), true, rejected, done);
    }

    private interface Change {
        StudyFile of(StudyFile before) throws StudyException;
    }

    private void change(Change change, boolean withPath, Consumer<String> rejected, Runnable done) {
        Optional<Path> shown = state.get().map(now -> now.file().folder());
        inBackground(() -> {
            // what was written while another study was being opened is not that one's
            StudyFile before = latest.filter(file -> shown.filter(file.folder()::equals).isPresent()).orElse(null);
            if (before == null) {
                return Optional.<State>empty();
            }
            StudyFile changed;
            try {
                changed = change.of(before);
            } catch (StudyException cause) {
                Platform.runLater(() -> rejected.accept(cause.words(withPath)));
                return Optional.<State>empty();
            }
            if (changed.text().equals(before.text())) {
                Platform.runLater(done);
                return Optional.<State>empty();
            }
            keepWord(before, changed);
            return Optional.of(replace(changed, () -> {
                undo.addLast(before);
                redo.clear();
            }, done));
        }, loaded -> loaded.ifPresent(this::showUnlessOutdated));
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

    /** The study before the last step of undo or redo, once; empty where there was none since. */
    public Optional<Study> takeSteppedFrom() {
        Optional<Study> from = steppedFrom;
        steppedFrom = Optional.empty();
        return from;
    }

    private void step(List<StudyFile> from, List<StudyFile> to) {
        if (from.isEmpty()) {
            return;
        }
        steppedFrom = state.get().map(State::study);
        StudyFile wanted = from.removeLast();
        inBackground(() -> {
            StudyFile before = latest.orElse(null);
            return before == null
                    ? Optional.<State>empty()
                    : Optional.of(replace(wanted, () -> to.addLast(before), () -> {
                    }));
        }, loaded -> loaded.ifPresent(this::showUnlessOutdated));
    }

    /**
     * Shows the study before what follows from it is known, and saves it, unless another program has written the file since it was
     * read. Files thread.
     *
     * @param noted told on the interface thread right before it is shown
     * @param done told there right after it
     */
    private State replace(StudyFile changed, Runnable noted, Runnable done) throws IOException, StudyException {
        latest = Optional.of(changed);
        String digest = LoadDigest.of(changed.study());
        Consent.Asked asked = asked(changed);
        Platform.runLater(() -> {
            noted.run();
            state.get().ifPresent(now -> display(now.with(changed, digest, asked)));
            done.run();
        });
        Path file = changed.folder().resolve(StudyFile.NAME);
        try {
            if (saved.isPresent() && Files.exists(file) && !Files.readString(file).equals(saved.get().text())) {
                throw new IOException(file + " was changed by another program; this edit was not saved, so that the"
                        + " other is not lost. Make it again on what the window shows in a moment");
            }
            changed.save();
        } catch (IOException cause) {
            latest = saved;
            saved.ifPresent(written -> {
                String itsDigest = LoadDigest.of(written.study());
                Consent.Asked itsAsked = asked(written);
                Platform.runLater(() -> state.get().ifPresent(now -> display(now.with(written, itsDigest, itsAsked))));
            });
            throw cause;
        }
        saved = latest;
        return load(changed);
    }

    private <T> void inBackground(Background.Work<T> work, Consumer<T> then) {
        files.run(work, then, cause -> {
            LOG.warn("the study could not be read or written", cause);
            // set anew, so that the same words are shown again
            problem.set(Optional.empty());
            problem.set(Optional.of(String.valueOf(cause.getMessage())));
        });
    }

    @Override
    public void close() {
        files.close();
    }
}
