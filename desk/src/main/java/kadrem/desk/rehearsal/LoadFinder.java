package kadrem.desk.rehearsal;

import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import kadrem.core.plan.LoadDigest;
import kadrem.core.proposal.ProposedLoad;
import kadrem.core.study.Candidate;
import kadrem.desk.Session;
import kadrem.desk.candidates.CandidatesStation;
import kadrem.desk.candidates.ConsentQuestion;
import kadrem.desk.look.Background;
import kadrem.load.campaign.Step;
import kadrem.work.FindLoad;
import kadrem.work.NotDone;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Finds a load for candidates of which nothing is known, and measures under it at one press. Interface thread only. */
final class LoadFinder implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(LoadFinder.class);
    /** Longer than a candidate is given time to end. */
    private static final Duration MAX_STOP = Duration.ofSeconds(10);

    private final Session session;
    private final CandidatesStation candidates;
    private final Runnable measure;
    private final Runnable changed;
    private final Button find = new Button("Find a load");
    private final Button take = new Button();
    private final Label words = new Label();
    private final VBox view;
    private Background.@Nullable Running worker;
    private Optional<Proposal> proposal = Optional.empty();

    /** What is proposed, and for which workload. */
    private record Proposal(Path study, String workload, ProposedLoad load) {
        static Proposal of(Session.State asked, ProposedLoad load) {
            return new Proposal(asked.file().folder(), LoadDigest.ofWorkload(asked.measured()), load);
        }

        boolean isFor(Session.State state) {
            return study.equals(state.file().folder()) && workload.equals(LoadDigest.ofWorkload(state.measured()));
        }
    }

    /**
     * @param measure measures the study's plan
     * @param changed told when a load is proposed, or none can be
     */
    LoadFinder(Session session, CandidatesStation candidates, Runnable measure, Runnable changed) {
        this.changed = changed;
        this.session = session;
        this.candidates = candidates;
        this.measure = measure;
        find.setId("find-load");
        find.setOnAction(_ -> session.state().ifPresent(this::find));
        take.setId("measure-proposed");
        take.getStyleClass().add("accent");
        take.setOnAction(_ -> take());
        words.setId("proposed-load");
        words.setWrapText(true);
        words.managedProperty().bind(words.textProperty().isNotEmpty());
        var buttons = new HBox(8, find, take);
        buttons.setAlignment(Pos.CENTER_LEFT);
        view = new VBox(6, words, buttons);
    }

    Node view() {
        return view;
    }

    void show(Session.State state) {
        // what was found for another workload says nothing of this one
        proposal = proposal.filter(one -> one.isFor(state));
        if (proposal.isEmpty() && worker == null) {
            words.setText("");
        }
        boolean agrees = state.presentRehearsal().filter(one -> one.agrees(state.measured().agreement())).isPresent();
        find.setDisable(worker != null || state.study().candidates().isEmpty());
        take.setVisible(proposal.isPresent());
        take.setDisable(!agrees);
        take.setText(proposal.map(one -> "Measure: " + one.load().size() + (agrees ? "" : ", once the answers agree"))
                .orElse(""));
    }

    /** Whether a load is proposed that can be measured under. */
    boolean proposes() {
        return proposal.isPresent();
    }

    /** Probes every candidate, unless that is under way. */
    void find(Session.State state) {
        if (worker != null) {
            return;
        }
        List<String> up = candidates.running(state.study());
        proposal = Optional.empty();
        words.setText("Finding a load that all bear with ease …");
        worker = Background.AT_ONCE.run(() -> FindLoad.run(state.file(), one -> up.contains(one.id()), this::tell),
                found -> found(state, found), cause -> over(why(cause)));
        show(state);
    }

    private void tell(Candidate candidate, Step step) {
        Platform.runLater(() -> {
            if (worker != null) {
                words.setText("Finding a load that all bear with ease. " + candidate.name() + ": " + step.words()
                        + " …");
            }
        });
    }

    private void found(Session.State asked, FindLoad.Found found) {
        proposal = found.proposed().map(load -> Proposal.of(asked, load));
        over(found.proposed().map(load -> String.join("\n", load.reasons()))
                .orElse("No load can be proposed. " + found.troubles().stream().map(one -> one + ".")
                        .collect(Collectors.joining(" "))));
    }

    private static String why(Exception cause) {
        return switch (cause) {
            case NotDone not -> "No candidate was asked: " + ConsentQuestion.words(not.objection()) + ".";
            case InterruptedException _ -> "";
            default -> {
                LOG.error("no load could be found", cause);
                yield "No load could be found: " + cause.getMessage();
            }
        };
    }

    private void over(String said) {
        worker = null;
        words.setText(said);
        changed.run();
    }

    private void take() {
        proposal.ifPresent(one -> session.edit(FindLoad.edits(one.load()), words::setText, measure));
    }

    @Override
    public void close() {
        Background.Running running = worker;
        if (running != null) {
            running.stop();
            running.await(MAX_STOP);
        }
    }
}
