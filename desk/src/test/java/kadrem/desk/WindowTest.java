package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.LongStream;
import java.util.stream.Stream;

import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.Spinner;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import kadrem.core.plan.Rounds;
import kadrem.files.study.StudyFile;
import kadrem.fixtures.Ports;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.api.FxRobot;
import org.testfx.util.WaitForAsyncUtils;

/** The real window, driven by its controls. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
class WindowTest {
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();
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

    /** The demo's first two candidates on free ports, under a short load. */
    private Path small() throws IOException {
        String classPath = System.getProperty("java.class.path");
        var candidates = new StringBuilder();
        for (String name : List.of("pool", "loop")) {
            candidates
                    .append("""
                              - id: %1$s
                                name: The %1$s
                                address: http://127.0.0.1:%2$d
                                launch:
                                  command: ["%3$s", -XX:TieredStopAtLevel=1, -cp, "%4$s", kadrem.standins.Main, loop, --port, "{{port}}"]
                                  readyWithin: 90s
                                ready: /health
                                reset:
                                  path: /admin/reset
                            """
                            .formatted(name, Ports.free(), JAVA, classPath));
        }
        Path study = Files.createDirectories(folder.resolve("small"));
        Files.writeString(study.resolve("study.yaml"), """
                kadrem: 1
                name: Small harbour
                question:
                  text: Which one?
                  decide:
                    - metric: p50
                      margin: 10%
                candidates:
                """ + candidates + """
                workload:
                  values:
                    - {name: berth, from: 1, to: 2400}
                  visits:
                    - name: look
                      calls:
                        - {name: one-berth, path: "/berths/{{berth}}"}
                load:
                  # kept through every edit
                  model: open
                  arrivalsPerSecond: 60
                  connections: 16
                  warmUp: 1s
                  measured: 2s
                  timeout: 25s
                plan:
                  rounds: 6
                  pause: 0s
                  idle: 0s
                soundness:
                  limits: {late: 10000%, clock-steps: 5s}
                """);
        return study;
    }

    @Test
    void theDemoOpensWithItsRunsAndEveryStationShowsThem() throws Exception {
        window.open(DrivenWindow.copyOfDemo(folder));
        window.go("candidates");
        assertThat(window.find("launch-all", Button.class).isDisabled()).isFalse();
        assertThat(window.find("status-pool", Label.class).getText()).isEqualTo("not running");
        window.go("compare");
        DrivenWindow.await("outcomes", () -> robot.lookup("#outcome-loop-pool").tryQuery().isPresent());
        assertThat(window.text("outcome-loop-pool")).contains("Event loop + cache").contains("% interval")
                .contains("settled");
        TableView<?> table = window.find("comparison-table", TableView.class);
        assertThat(table.getItems()).hasSizeGreaterThanOrEqualTo(8 * 3);
        window.go("measure");
        assertThat(window.text("run-title")).startsWith("Round ");
        window.click("run-1-pool");
        assertThat(window.text("run-title")).startsWith("Round 1, Thread pool + SQL");
    }

    @Test
    void aShortMeasurementRunsAndItsOutcomeIsRead() throws Exception {
        Path study = small();
        window.open(study);
        window.go("compare");
        assertThat(window.find("evidence-sentence", Label.class).getText())
                .isEqualTo("Nothing measured yet that can be compared.");
        window.go("measure");
        assertThat(window.find("measure", Button.class).getText()).as("what the plan lacks")
                .isEqualTo("Measure 6 rounds");
        Spinner<Integer> rounds = robot.lookup("#rounds-now").query();
        WaitForAsyncUtils.asyncFx(() -> rounds.getValueFactory().setValue(2)).get();
        window.click("measure");
        DrivenWindow.await("the live view", () -> robot.lookup("#run-title").queryLabeled().getText().endsWith("now"));
        assertThat(window.find("stop-measuring", Button.class).isDisabled()).isFalse();
        DrivenWindow.await("the end",
                () -> robot.lookup("#measure-status").queryLabeled().getText().equals("4 runs made."));
        try (Stream<Path> runs = Files.list(study.resolve("runs"))) {
            assertThat(runs).hasSize(4);
        }
        window.go("compare");
        DrivenWindow.await("an outcome or the reason for none",
                () -> robot.lookup("#outcome-loop-pool").tryQuery().isPresent()
                        || robot.lookup("#left-out").queryLabeled().getText().startsWith("Left out"));
        boolean counted = robot.lookup("#outcome-loop-pool").tryQuery().isPresent();
        assertThat(window.text(counted ? "outcome-loop-pool" : "left-out")).contains(counted
                ? "too few for an interval"
                : "Measure says why");
    }

    private static boolean saved(Path file, String words) {
        try {
            return Files.readString(file).contains(words);
        } catch (IOException cause) {
            throw new UncheckedIOException(cause);
        }
    }

    /** A seed that gives the first round this order. */
    private static long seedOfOrder(String... candidates) {
        return LongStream.range(1, 100).filter(seed -> Rounds.order(List.of("pool", "loop"), seed, 1)
                .equals(List.of(candidates))).findFirst().orElseThrow();
    }

    /** From the line that says what is watched to what the load moved, with a run skipped and one noted in between. */
    @Test
    void whatIsWatchedIsTriedMeasuredAndLookedAt() throws Exception {
        Path study = small();
        Path file = study.resolve("study.yaml");
        Files.writeString(file,
                Files.readString(file).replace("idle: 0s", "idle: 10s\n  seed: " + seedOfOrder("pool", "loop"))
                        .replace("measured: 2s", "measured: 4s"));
        window.open(study);
        window.go("candidates");
        window.press("watch-more-loop");
        window.choose("form-watch-way", "jvm");
        window.enter("form-watch-jvm", "launched");
        window.press("candidate-form-save");
        DrivenWindow.await("the line", () -> saved(file, "jvm: launched"));
        // the edit puts other buttons in the place of those that were there
        window.press("launch-loop");
        DrivenWindow.await("the service", () -> window.says("status-loop", "up after"));
        window.press("try-watch-loop-jvm");
        DrivenWindow.await("what it tells",
                () -> window.isThere("tried-loop-jvm") && window.says("tried-loop-jvm", "series, read in"));
        window.press("watch-more-loop");
        window.choose("form-watch-way", "ssh");
        window.enter("form-watch-ssh", "watcher@127.0.0.1:" + Ports.free());
        window.enter("form-watch-password", "{{env:NONE}}");
        window.press("candidate-form-save");
        DrivenWindow.await("the second line", () -> window.isThere("try-watch-loop-ssh"));
        window.press("try-watch-loop-ssh");
        DrivenWindow.await("why it does not", () -> window.isThere("tried-loop-ssh") && window.says("tried-loop-ssh",
                "tells nothing: no SSH connection"));

        window.go("measure");
        Spinner<Integer> rounds = robot.lookup("#rounds-now").query();
        WaitForAsyncUtils.asyncFx(() -> rounds.getValueFactory().setValue(1)).get();
        window.click("measure");
        // the run of the pool, which is not watched
        DrivenWindow.await("the live view", () -> window.says("run-title", "The pool"));
        MenuButton hands = window.find("campaign-hands", MenuButton.class);
        WaitForAsyncUtils.asyncFx(() -> hands.getItems().stream().filter(one -> "skip-run".equals(one.getId()))
                .forEach(MenuItem::fire)).get();
        DrivenWindow.await("the end", () -> window.says("measure-status", "runs made"));

        window.go("examine");
        window.press("side-hosts");
        TableView<?> moved = window.find("moved-table", TableView.class);
        DrivenWindow.await("what moved", () -> moved.getItems().size() > 10);
        assertThat(window.text("moved-words")).contains("To watch cost Kadrem");
        window.press("side-story");
        DrivenWindow.await("the fields for a note", () -> robot.lookup(".text-field").queryAll().stream()
                .anyMatch(one -> one.getId() != null && one.getId().startsWith("note-text-")));
        String run = robot.lookup(".text-field").queryAll().stream().map(Node::getId)
                .filter(id -> id != null && id.startsWith("note-text-")).findFirst().orElseThrow()
                .substring("note-text-".length());
        window.enter("note-second-" + run, "3");
        window.enter("note-text-" + run, "the ferry came in");
        DrivenWindow.await("the note in the study", () -> saved(file, "the ferry came in"));
        window.press("side-scatter");
        DrivenWindow.await("dots", () -> robot.lookup("#scatter-lower").tryQuery().isPresent());
        assertThat(robot.lookup("#scatter-lower").queryComboBox().getItems().stream().map(Object::toString))
                .contains("jvm: heap in use, MiB", "candidate: CPU, % of a core");
    }

    @Test
    void aMeasurementCanBeStoppedAndWhatWasMeasuredStays() throws Exception {
        window.open(small());
        window.go("measure");
        window.click("measure");
        DrivenWindow.await("the live view", () -> robot.lookup("#run-title").queryLabeled().getText().endsWith("now"));
        window.click("stop-measuring");
        DrivenWindow.await("the end",
                () -> robot.lookup("#measure-status").queryLabeled().getText().startsWith("Stopped;"));
        DrivenWindow.await("the next measurement", () -> !robot.lookup("#measure").queryButton().isDisabled());
    }

    /** As the command line does: a call that cannot be made is not made six times in vain. */
    @Test
    void whatCannotBeSentIsToldBeforeACandidateIsLaunched() throws Exception {
        Path study = small();
        Path file = study.resolve(StudyFile.NAME);
        Files.writeString(file, Files.readString(file).replace("path: \"/berths/{{berth}}\"",
                "path: \"/berths/{{berth}}\", headers: {x-key: \"{{env:NO_SUCH_BERTH_KEY}}\"}"));
        window.open(study);
        window.go("measure");
        window.click("measure");
        DrivenWindow.await("the reason", () -> window.says("measure-status", "Nothing was measured"));
        assertThat(window.text("measure-outcome")).contains("NO_SUCH_BERTH_KEY");
        assertThat(study.resolve("runs")).as("nothing was begun").doesNotExist();
    }

    @Test
    void candidatesAreLaunchedProbedAndStoppedInPlace() throws Exception {
        window.open(small());
        window.go("candidates");
        window.click("launch-loop");
        DrivenWindow.await("it is up",
                () -> robot.lookup("#status-loop").queryLabeled().getText().startsWith("up after"));
        window.click("probe-loop");
        DrivenWindow.await("the probe",
                () -> robot.lookup("#status-loop").queryLabeled().getText().startsWith("answers 200 in"));
        assertThat(window.find("probe-loop", Button.class).isFocused()).as("the keyboard stays where it was").isTrue();
        assertThat(robot.lookup(".fact-cell").queryAllAs(Label.class)).extracting(Label::getText)
                .contains("berth-board-loop");
        window.click("stop-loop");
        DrivenWindow.await("it is down",
                () -> robot.lookup("#status-loop").queryLabeled().getText().equals("not running"));
    }

    @Test
    void figuresOfTheLoadAreEditedSavedAndTakenBack() throws Exception {
        Path study = small();
        window.open(study);
        window.go("load");
        TextField rate = window.find("load-arrivalsPerSecond", TextField.class);
        window.type(rate, "75");
        Path file = study.resolve("study.yaml");
        DrivenWindow.await("the save", () -> DrivenWindow.read(file).contains("arrivalsPerSecond: 75"));
        assertThat(DrivenWindow.read(file)).contains("# kept through every edit");
        window.type(rate, "many");
        DrivenWindow.await("the refusal", () -> !robot.lookup("#rejected").queryLabeled().getText().isEmpty());
        assertThat(window.text("rejected")).contains("load.arrivalsPerSecond is \"many\"").contains("last good state");
        assertThat(DrivenWindow.read(file)).contains("arrivalsPerSecond: 75");
        window.type(rate, "80");
        DrivenWindow.await("another save", () -> DrivenWindow.read(file).contains("arrivalsPerSecond: 80"));
        WaitForAsyncUtils.asyncFx(rate::requestFocus).get();
        Platform.runLater(() -> robot.lookup("Undo").queryButton().fire());
        DrivenWindow.await("undo", () -> DrivenWindow.read(file).contains("arrivalsPerSecond: 75"));
        DrivenWindow.await("the field that has the keyboard", () -> rate.getText().equals("75"));
        window.click("model-closed");
        DrivenWindow.await("the other model", () -> DrivenWindow.read(file).contains("model: closed"));
        assertThat(window.find("load-users", TextField.class).getText()).isEqualTo("20");
        Platform.runLater(() -> robot.lookup("Undo").queryButton().fire());
        DrivenWindow.await("undo", () -> DrivenWindow.read(file).contains("model: open"));
    }

    @Test
    void aStudyThatCannotBeUsedIsExplainedAndReadAgainOnceMended() throws Exception {
        Path study = small();
        String good = DrivenWindow.read(study.resolve("study.yaml"));
        Files.writeString(study.resolve("study.yaml"), good.replace("measured: 2s", "measured: soon"));
        window.open(study);
        Node problem = window.find("problem", Node.class);
        assertThat(robot.from(problem).lookup(".message-text").queryLabeled().getText()).contains("line ")
                .contains("load.measured is \"soon\"").contains("measured: 20s").doesNotContain("Exception");
        Files.writeString(study.resolve("study.yaml"), good);
        Platform.runLater(() -> robot.lookup("Read it again").queryButton().fire());
        assertThat(window.find("question-text", TextField.class)).isNotNull();
    }

    @Test
    void theKeyboardAloneReachesEveryStation() throws Exception {
        window.open(small());
        window.find("question-text", TextField.class);
        for (Map.Entry<KeyCode, String> key : new TreeMap<>(Map.of(KeyCode.DIGIT2, "launch-all", KeyCode.DIGIT3,
                "add-visit",
                KeyCode.DIGIT4, "load-measured", KeyCode.DIGIT5, "rehearse", KeyCode.DIGIT6, "measure", KeyCode.DIGIT7,
                "side-tail", KeyCode.DIGIT8, "metric", KeyCode.DIGIT9, "verdict-paragraph")).entrySet()) {
            robot.push(KeyCode.CONTROL, key.getKey());
            window.find(key.getValue(), Node.class);
        }
        robot.push(KeyCode.CONTROL, KeyCode.DIGIT1);
        window.find("question-text", TextField.class);
    }
}
