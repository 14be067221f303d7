package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.BooleanSupplier;
import java.util.stream.Stream;

import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Labeled;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.api.FxRobot;
import org.testfx.api.FxToolkit;
import org.testfx.util.WaitForAsyncUtils;

/** The real window, driven by its controls. */
@EnabledIf(value = "hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
class WindowTest {
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();
    private static final long PATIENCE_SECONDS = 180;
    @TempDir
    private Path folder;
    private final FxRobot robot = new FxRobot();
    private final DeskApplication[] application = new DeskApplication[1];

    static boolean hasDisplay() {
        return System.getenv("DISPLAY") != null || !System.getProperty("os.name").startsWith("Linux");
    }

    @BeforeAll
    static void figuresWithoutAwtWindows() {
        System.setProperty("java.awt.headless", "true");
    }

    @BeforeEach
    void toolkit() throws Exception {
        FxToolkit.registerPrimaryStage();
    }

    @AfterEach
    void close() throws Exception {
        FxToolkit.cleanupApplication(application[0]);
        FxToolkit.cleanupStages();
    }

    private void open(Path study) throws Exception {
        application[0] = (DeskApplication) FxToolkit.setupApplication(DeskApplication.class, "--study",
                study.toString());
        await("the study", () -> robot.lookup("#evidence-sentence").tryQuery().isPresent()
                || robot.lookup("#problem").tryQuery().isPresent());
    }

    /** The condition is looked at on the interface thread, where nothing changes under it. */
    private static void await(String what, BooleanSupplier condition) throws Exception {
        long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
        while (!WaitForAsyncUtils.asyncFx(condition::getAsBoolean).get()) {
            if (System.nanoTime() > deadline) {
                throw new AssertionError("waited in vain for " + what);
            }
            TimeUnit.MILLISECONDS.sleep(50);
        }
    }

    private <T extends Node> T find(String id, Class<T> type) throws Exception {
        var found = new AtomicReference<T>();
        await("#" + id, () -> {
            robot.lookup("#" + id).tryQuery().map(type::cast).ifPresent(found::set);
            return found.get() != null;
        });
        return found.get();
    }

    private String text(String id) throws Exception {
        return find(id, Labeled.class).getText();
    }

    private void go(String station) throws Exception {
        robot.clickOn(find("spine-" + station, Node.class));
    }

    /** The demo study with runs, which stands beside this module. */
    private Path demo() throws IOException {
        Path shipped = Path.of("../demo/harbour-berths");
        Path copy = folder.resolve("demo");
        try (Stream<Path> files = Files.walk(shipped)) {
            for (Path file : files.toList()) {
                Path to = copy.resolve(shipped.relativize(file).toString());
                if (Files.isDirectory(file)) {
                    Files.createDirectories(to);
                } else {
                    Files.copy(file, to);
                }
            }
        }
        return copy;
    }

    private static int freePort() throws IOException {
        try (var socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return socket.getLocalPort();
        }
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
                                  command: ["%3$s", -XX:TieredStopAtLevel=1, -cp, "%4$s", kadrem.standins.Main, %1$s, --port, "{{port}}"]
                                  readyWithin: 90s
                                ready: /health
                                reset:
                                  path: /admin/reset
                            """
                            .formatted(name, freePort(), JAVA, classPath));
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
                """);
        return study;
    }

    @Test
    void theDemoOpensWithItsRunsAndEveryStationShowsThem() throws Exception {
        open(demo());
        assertThat(find("launch-all", Button.class).isDisabled()).isFalse();
        assertThat(find("status-pool", Label.class).getText()).isEqualTo("not running");
        go("compare");
        await("outcomes", () -> robot.lookup("#outcome-loop-pool").tryQuery().isPresent());
        assertThat(text("outcome-loop-pool")).contains("Event loop + cache").contains("% interval")
                .contains("settled");
        TableView<?> table = find("comparison-table", TableView.class);
        assertThat(table.getItems()).hasSizeGreaterThanOrEqualTo(8 * 3);
        go("measure");
        assertThat(text("run-title")).startsWith("Round ");
        robot.clickOn(find("run-1-pool", Button.class));
        assertThat(text("run-title")).startsWith("Round 1, Thread pool + SQL");
    }

    @Test
    void aShortMeasurementRunsAndItsOutcomeIsRead() throws Exception {
        Path study = small();
        open(study);
        go("compare");
        assertThat(find("evidence-sentence", Label.class).getText())
                .isEqualTo("Nothing measured yet that can be compared.");
        go("measure");
        assertThat(find("measure", Button.class).getText()).isEqualTo("Measure 2 rounds");
        robot.clickOn(find("measure", Button.class));
        await("the live view", () -> robot.lookup("#run-title").queryLabeled().getText().endsWith("now"));
        assertThat(find("stop-measuring", Button.class).isDisabled()).isFalse();
        await("the end", () -> robot.lookup("#measure-status").queryLabeled().getText().equals("4 runs made."));
        try (Stream<Path> runs = Files.list(study.resolve("runs"))) {
            assertThat(runs).hasSize(4);
        }
        go("compare");
        await("an outcome or the reason for none",
                () -> robot.lookup("#outcome-loop-pool").tryQuery().isPresent()
                        || robot.lookup("#left-out").queryLabeled().getText().startsWith("Left out"));
        if (robot.lookup("#outcome-loop-pool").tryQuery().isPresent()) {
            assertThat(text("outcome-loop-pool")).contains("too few for an interval").endsWith("not settled.");
        }
    }

    @Test
    void aMeasurementCanBeStoppedAndWhatWasMeasuredStays() throws Exception {
        open(small());
        go("measure");
        robot.clickOn(find("measure", Button.class));
        await("the live view", () -> robot.lookup("#run-title").queryLabeled().getText().endsWith("now"));
        robot.clickOn(find("stop-measuring", Button.class));
        await("the end", () -> robot.lookup("#measure-status").queryLabeled().getText().startsWith("Stopped;"));
        await("the next measurement", () -> !robot.lookup("#measure").queryButton().isDisabled());
    }

    @Test
    void candidatesAreLaunchedProbedAndStoppedInPlace() throws Exception {
        open(small());
        robot.clickOn(find("launch-loop", Button.class));
        await("it is up", () -> robot.lookup("#status-loop").queryLabeled().getText().startsWith("up after"));
        robot.clickOn(find("probe-loop", Button.class));
        await("the probe", () -> robot.lookup("#status-loop").queryLabeled().getText().startsWith("answers 200 in"));
        assertThat(robot.lookup(".fact-cell").queryAllAs(Label.class)).extracting(Label::getText)
                .contains("berth-board-loop");
        robot.clickOn(find("stop-loop", Button.class));
        await("it is down", () -> robot.lookup("#status-loop").queryLabeled().getText().equals("not running"));
    }

    @Test
    void figuresOfTheLoadAreEditedSavedAndTakenBack() throws Exception {
        Path study = small();
        open(study);
        go("load");
        TextField rate = find("load-arrivalsPerSecond", TextField.class);
        type(rate, "75");
        Path file = study.resolve("study.yaml");
        await("the save", () -> read(file).contains("arrivalsPerSecond: 75"));
        assertThat(read(file)).contains("# kept through every edit");
        type(rate, "many");
        await("the refusal", () -> !robot.lookup("#rejected").queryLabeled().getText().isEmpty());
        assertThat(text("rejected")).contains("arrivals a second is \"many\"").contains("last good figure");
        assertThat(read(file)).contains("arrivalsPerSecond: 75");
        robot.clickOn(find("model-closed", Node.class));
        await("the other model", () -> read(file).contains("model: closed"));
        assertThat(find("load-users", TextField.class).getText()).isEqualTo("20");
        Platform.runLater(() -> robot.lookup("Undo").queryButton().fire());
        await("undo", () -> read(file).contains("model: open"));
    }

    private void type(TextField field, String text) {
        robot.doubleClickOn(field);
        robot.push(KeyCode.CONTROL, KeyCode.A);
        robot.write(text);
        robot.push(KeyCode.ENTER);
    }

    private static String read(Path file) {
        try {
            return Files.readString(file);
        } catch (IOException cause) {
            return "";
        }
    }

    @Test
    void aStudyThatCannotBeUsedIsExplainedAndReadAgainOnceMended() throws Exception {
        Path study = small();
        String good = read(study.resolve("study.yaml"));
        Files.writeString(study.resolve("study.yaml"), good.replace("measured: 2s", "measured: soon"));
        open(study);
        Node problem = find("problem", Node.class);
        assertThat(robot.from(problem).lookup(".message-text").queryLabeled().getText()).contains("line ")
                .contains("load.measured is \"soon\"").contains("measured: 20s").doesNotContain("Exception");
        Files.writeString(study.resolve("study.yaml"), good);
        Platform.runLater(() -> robot.lookup("Read it again").queryButton().fire());
        assertThat(find("launch-all", Button.class)).isNotNull();
    }

    @Test
    void theKeyboardAloneReachesEveryStation() throws Exception {
        open(small());
        find("launch-all", Button.class);
        robot.push(KeyCode.CONTROL, KeyCode.DIGIT2);
        assertThat(find("load-measured", TextField.class).getText()).isEqualTo("2s");
        robot.push(KeyCode.CONTROL, KeyCode.DIGIT3);
        assertThat(find("measure", Button.class).getAccessibleText()).isNull();
        robot.push(KeyCode.CONTROL, KeyCode.DIGIT4);
        find("metric", Node.class);
        robot.push(KeyCode.CONTROL, KeyCode.DIGIT1);
        find("launch-all", Button.class);
    }
}
