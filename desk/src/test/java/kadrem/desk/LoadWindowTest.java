package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.RadioButton;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseButton;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Standing;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.SoundnessRule;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.api.FxRobot;
import org.testfx.util.WaitForAsyncUtils;

/** The load profile drawn and typed in the real window, and how runs are judged there. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
class LoadWindowTest {
    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();
    private final FxRobot robot = window.robot();

    @BeforeEach
    void toolkit() throws Exception {
        window.prepare();
    }

    @AfterEach
    void close() throws Exception {
        window.close();
    }

    private MeasuredStudy study() {
        try {
            return StudyFile.read(folder.resolve("demo")).measured();
        } catch (StudyException cause) {
            throw new AssertionError(cause);
        }
    }

    private void awaitStudy(String what, java.util.function.Predicate<MeasuredStudy> condition) throws Exception {
        DrivenWindow.await(what, () -> condition.test(study()));
    }

    @Test
    void aProfileIsDraggedAndTypedInStep() throws Exception {
        window.open(DrivenWindow.copyOfDemo(folder));
        window.go("load");
        assertThat(window.text("sent")).contains("800 arrivals").contains("1,280 calls").contains("80 calls/s");
        assertThat(window.text("predicted-loop")).contains("Little's law");
        // the second handle is the end of the measured part: down and to the left
        Node handle = window.still("handle-1");
        robot.drag(handle, MouseButton.PRIMARY).moveBy(-90, 40).drop();
        awaitStudy("the dragged profile", study -> study.load().single().orElseThrow().shape().peak() < 50);
        LoadProfile.Single dragged = study().load().single().orElseThrow();
        assertThat(dragged.measured().toSeconds()).isBetween(8L, 15L);
        DrivenWindow.await("the typed figures in step", () -> robot.lookup("#load-measured").queryAs(TextField.class)
                .getText().equals(dragged.measured().toSeconds() + "s"));
        assertThat(window.find("load-arrivalsPerSecond", TextField.class).getText())
                .isEqualTo(Long.toString(Math.round(dragged.shape().peak())));
        window.enter("load-arrivalsPerSecond", "70");
        awaitStudy("the typed rate", study -> study.load().single().orElseThrow().shape().peak() == 70);
        WaitForAsyncUtils.asyncFx(() -> robot.lookup("#handle-1").query().requestFocus()).get();
        robot.push(KeyCode.RIGHT);
        awaitStudy("a second more by the arrow key",
                study -> study.load().measured().equals(dragged.measured().plusSeconds(1)));
        robot.push(KeyCode.SHORTCUT, KeyCode.Z);
        awaitStudy("one step back", study -> study.load().measured().equals(dragged.measured()));
    }

    @Test
    void whatTheMachineCanMakeIsCheckedInTheWindow() throws Exception {
        window.open(DrivenWindow.copyOfDemo(folder));
        window.go("load");
        window.press("check-machine");
        DrivenWindow.await("the words of the check", () -> window.says("capacity", "calls/s"));
    }

    @Test
    void shapesToStartFromSearchesAndRulesAreMadeByClicks() throws Exception {
        Path copy = DrivenWindow.copyOfDemo(folder);
        Path file = copy.resolve("study.yaml");
        Files.writeString(file, Files.readString(file).replaceFirst("(?s)  require:.*?  judge:", "  judge:"));
        window.open(copy);
        window.go("load");
        window.press("start-spike");
        awaitStudy("the spike", study -> study.load().single().orElseThrow().shape().segments().size() == 3);
        DrivenWindow.await("its rows", () -> robot.lookup("#rows-segments .text-field").queryAll().size() == 9);
        DrivenWindow.await("its handles", () -> window.isThere("handle-3"));
        window.press("start-ladder");
        awaitStudy("the ladder", study -> study.load().course().search().isPresent());
        window.enter("load-ladder-by", "15");
        awaitStudy("its rise",
                study -> study.load().course().search().orElseThrow() instanceof LevelSearch.Ladder ladder
                        && ladder.step() == 15);
        WaitForAsyncUtils.asyncFx(() -> {
            @SuppressWarnings("unchecked")
            ComboBox<String> search = robot.lookup("#search").queryAs(ComboBox.class);
            search.setValue("ceiling search");
        }).get();
        awaitStudy("the ceiling search",
                study -> study.load().course().search().orElseThrow() instanceof LevelSearch.Ceiling);
        assertThat(study().question().requirements()).as("it needs one, which is shown").hasSize(1);
        WaitForAsyncUtils.asyncFx(() -> robot.lookup("#model-closed").queryAs(RadioButton.class).fire()).get();
        awaitStudy("users without a ceiling", study -> study.load() instanceof LoadProfile.Closed
                && study.load().course().search().isEmpty());
        window.press("add-stop-rules");
        WaitForAsyncUtils.asyncFx(() -> {
            List<TextField> fields = robot.lookup("#rows-stop-rules .text-field").<TextField>queryAll().stream()
                    .toList();
            fields.get(1).setText("15s");
            fields.get(0).setText("5%");
            fields.get(0).getOnAction().handle(new javafx.event.ActionEvent());
        }).get();
        awaitStudy("the stop rule", study -> study.load().course().stopRules().size() == 1);
        // what is shown of the edit before takes a refusal away with it, so it is typed until the refusal stays
        DrivenWindow.await("the refusal", () -> {
            boolean told = robot.lookup("#rejected").queryAs(Label.class).getText()
                    .startsWith("load.thinkTime is \"soon\"");
            if (!told) {
                TextField field = robot.lookup("#load-thinkTime").queryAs(TextField.class);
                field.setText("soon");
                field.getOnAction().handle(new javafx.event.ActionEvent());
            }
            return told;
        });
        assertThat(window.text("rejected")).startsWith("load.thinkTime is \"soon\"")
                .contains("keeps its last good state");
    }

    @Test
    void aDisturbedRunIsTakenInWithAReasonAndLimitsAreChanged() throws Exception {
        Path quiet = DrivenWindow.copyOfDemo(folder);
        Map<Integer, List<RunRecord>> disturbed = new RunFolders(quiet).runs().stream()
                .filter(run -> run.standing() instanceof Standing.Disturbed)
                .collect(Collectors.groupingBy(RunRecord::round));
        RunRecord alone = disturbed.values().stream().filter(runs -> runs.size() == 1).findFirst().orElseThrow()
                .getFirst();
        window.open(quiet);
        window.go("measure");
        assertThat(robot.lookup(".run-crossed").queryAll()).as("whole rounds, for all candidates")
                .hasSize(3 * disturbed.size());
        window.click("run-" + alone.round() + "-" + alone.candidate());
        window.enter("take-in-reason", "the neighbour was busy in its first second only");
        window.press("take-in");
        awaitStudy("the run taken in", study -> study.judgement().takenIn().size() == 1);
        String run = study().judgement().takenIn().getFirst().run();
        DrivenWindow.await("its cell", () -> robot.lookup(".run-selected").queryAll().stream()
                .noneMatch(node -> node.getStyleClass().contains("run-crossed")));
        assertThat(run).hasSize(8);
        window.press("leave-out");
        awaitStudy("the run left out again", study -> study.judgement().takenIn().isEmpty());
        window.press("soundness-rules");
        window.enter("limit-drift", "40%");
        awaitStudy("the limit", study -> study.judgement().limits()
                .getOrDefault(SoundnessRule.DRIFT, 0.0) == 0.4);
        DrivenWindow.await("the changed limit, said so",
                () -> robot.lookup("#findings .label").queryAll().stream()
                        .anyMatch(node -> node instanceof Label label
                                && label.getText().equals("limit of this study")));
    }
}
