package kadrem.desk.measure;

import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.CheckMenuItem;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.Spinner;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import kadrem.core.verdict.Comparison;
import kadrem.desk.Session;
import kadrem.work.Measurement;

/** What begins a measurement, reaches into it and ends it, and the line that says how it stands. */
final class MeasureControls {
    private static final int MAX_ROUNDS = 200;

    private final Button begin = new Button("Measure");
    private final Button again = new Button("A further sitting");
    private final Button stop = new Button("Stop");
    private final Spinner<Integer> rounds = new Spinner<>(1, MAX_ROUNDS, 1);
    private int proposed = 1;
    private final ProgressBar progress = new ProgressBar(0);
    private final Label status = new Label();
    private final Label outcome = new Label();
    private final MenuButton hands = new MenuButton("This run");
    private final CheckMenuItem serve = new CheckMenuItem("Serve live figures to a dashboard");
    private final CheckMenuItem hold = new CheckMenuItem("Wait after this run");
    private final HBox actions;
    private final Wishes wishes;

    /** What the user may want. */
    interface Wishes {
        /** So many rounds more. */
        void measure(int rounds);

        /** A further sitting. */
        void again();

        void stop();

        /** Something with the runs that are being made. */
        void reach(Consumer<Measurement> hand);

        void serve(boolean on);
    }

    MeasureControls(Wishes wishes, FloorPane floor) {
        this.wishes = wishes;
        begin.getStyleClass().add("accent");
        begin.setId("measure");
        begin.setOnAction(_ -> wishes.measure(rounds()));
        again.setId("measure-again");
        again.setTooltip(new Tooltip(
                "Measures the plan once more: on another day, after the system was started anew, or on another host."
                        + " When three sittings are through, and six, and twelve, what is said is said over sittings."));
        again.setOnAction(_ -> wishes.again());
        again.managedProperty().bind(again.visibleProperty());
        stop.setId("stop-measuring");
        stop.setOnAction(_ -> wishes.stop());
        stop.setDisable(true);
        hands.setId("campaign-hands");
        hands.setDisable(true);
        hands.setTooltip(new Tooltip("What can be done with the runs that are being made"));
        hands.getItems().addAll(hand("skip-run", "Skip this run", Measurement::skip),
                hand("redo-run", "Give this run up and make it again", Measurement::redo), hold,
                hand("add-round", "Add a round", measuring -> measuring.addRounds(1)), serve);
        serve.setId("serve-metrics");
        serve.setOnAction(_ -> wishes.serve(serve.isSelected()));
        hold.setId("hold-campaign");
        hold.setOnAction(_ -> {
            boolean wait = hold.isSelected();
            wishes.reach(measuring -> measuring.hold(wait));
        });
        rounds.setEditable(true);
        rounds.setPrefWidth(80);
        rounds.setId("rounds-now");
        rounds.setAccessibleText("rounds to measure now");
        rounds.getEditor().setAccessibleText("rounds to measure now");
        rounds.valueProperty().addListener((_, _, _) -> nameBegin());
        progress.setPrefWidth(100);
        progress.setVisible(false);
        status.setId("measure-status");
        status.setWrapText(true);
        HBox.setHgrow(status, Priority.ALWAYS);
        outcome.setId("measure-outcome");
        outcome.setWrapText(true);
        outcome.setMinHeight(Region.USE_PREF_SIZE);
        outcome.managedProperty().bind(outcome.textProperty().isNotEmpty());
        actions = new HBox(8, begin, new Label("rounds"), rounds, again, stop, hands, floor.menu());
        actions.setAlignment(Pos.CENTER_LEFT);
        actions.getChildren().forEach(one -> ((Region) one).setMinWidth(Region.USE_PREF_SIZE));
        progress.setMinWidth(Region.USE_PREF_SIZE);
        actions.getChildren().addAll(progress, status);
    }

    private MenuItem hand(String id, String words, Consumer<Measurement> action) {
        var item = new MenuItem(words);
        item.setId(id);
        item.setOnAction(_ -> wishes.reach(action));
        return item;
    }

    HBox actions() {
        return actions;
    }

    /** What came of the last measurement, below the actions. */
    Label outcome() {
        return outcome;
    }

    int rounds() {
        return rounds.getValue() == null ? 1 : rounds.getValue();
    }

    private void nameBegin() {
        begin.setText(rounds() == 1 ? "Measure a round" : "Measure " + rounds() + " rounds");
    }

    /** What the plan lacks, until the user has said otherwise. */
    private void propose(Session.State state) {
        int lacking = Math.clamp(state.study().plan().rounds() - state.wholeRounds(), 1, MAX_ROUNDS);
        if (lacking != proposed) {
            boolean untouched = rounds() == proposed;
            proposed = lacking;
            if (untouched) {
                rounds.getValueFactory().setValue(lacking);
            }
        }
    }

    void show(Session.State state, boolean measuring) {
        if (!measuring) {
            propose(state);
        }
        nameBegin();
        begin.setDisable(measuring || state.study().candidates().isEmpty());
        Comparison.Progress known = state.comparison().progress();
        boolean measured = known.measured() >= known.planned() && known.measured() > 0;
        begin.setTooltip(measured && known.look().isOneOfSeveral()
                ? new Tooltip("The plan is through. Gone on with, the study is judged again at "
                        + known.look().nextWords()
                        + (known.look().isOfSittings()
                                ? ", "
                                : ", " + (known.look().next() - known.measured() - known.waiting()) + " more, ")
                        + "by what is kept back of the significance; a further sitting on another day says more.")
                : null);
        again.setVisible((measured || state.comparison().allSittings().size() > 1));
        again.setDisable(measuring);
    }

    /** Says in a few words how things stand. */
    void say(String words) {
        status.setText(words);
    }

    /** Says what stands to be known for longer. */
    void tell(String sentences) {
        outcome.setText(sentences);
    }

    /** Nothing else can be begun until it is known whether this can be. */
    void asked() {
        begin.setDisable(true);
        again.setDisable(true);
        status.setText("");
        outcome.setText("");
    }

    void begun() {
        stop.setDisable(false);
        hands.setDisable(false);
        hold.setSelected(false);
        serve.setSelected(false);
        progress.setProgress(0);
        progress.setVisible(true);
    }

    /** @param share how much of all is done, 0 to 1 */
    void progress(double share, String words) {
        progress.setProgress(share);
        if (!stop.isDisabled()) {
            status.setText(words);
        }
    }

    void stopping() {
        stop.setDisable(true);
        status.setText("Stopping …");
    }

    void served(boolean on) {
        serve.setSelected(on);
    }

    void ended(String words, String follows) {
        stop.setDisable(true);
        hands.setDisable(true);
        progress.setVisible(false);
        status.setText(words);
        outcome.setText(follows);
    }
}
