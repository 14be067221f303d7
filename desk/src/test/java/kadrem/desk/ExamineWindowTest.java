package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;

import javafx.geometry.Bounds;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.control.CheckMenuItem;
import javafx.scene.control.MenuButton;
import javafx.scene.control.TableView;
import javafx.scene.control.TextArea;
import javafx.scene.input.Clipboard;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseButton;
import javafx.scene.layout.StackPane;
import kadrem.core.measure.RunRecord;
import kadrem.core.verdict.Comparison;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/** Recorded runs of the demo study are looked at in the real window. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
class ExamineWindowTest {
    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();

    @BeforeEach
    void begin() throws Exception {
        window.prepare();
        window.open(DrivenWindow.copyOfDemo(folder));
        window.go("examine");
    }

    @AfterEach
    void end() throws Exception {
        window.close();
    }

    private void awaitRows(int rows) throws Exception {
        DrivenWindow.await(rows + " rows", () -> window.robot().lookup("#call-table").tryQueryAs(TableView.class)
                .filter(found -> found.getItems().size() == rows).isPresent());
    }

    /** The table as it is copied, cell by cell. */
    private List<List<String>> copied() throws Exception {
        window.press("copy-calls");
        return WaitForAsyncUtils.asyncFx(() -> Clipboard.getSystemClipboard().getString()).get().lines()
                .map(line -> List.of(line.split(",", -1))).toList();
    }

    /** A round that was set aside is crossed for every candidate, though only one of its runs was disturbed. */
    @Test
    void theEvidenceBarCrossesWholeRounds() throws Exception {
        List<RunRecord> runs = new RunFolders(folder.resolve("demo")).runs();
        List<Integer> aside = Comparison.roundsSetAside(StudyFile.read(folder.resolve("demo")).study(), runs);
        assertThat(aside).isNotEmpty();
        DrivenWindow.await("the bar", () -> !window.robot().lookup(".evidence-letter").queryAll().isEmpty());
        List<String> told = WaitForAsyncUtils.asyncFx(() -> window.robot().lookup(node -> node instanceof StackPane
                && node.getAccessibleText() != null && node.getAccessibleText().startsWith("round ")).queryAll()
                .stream()
                .map(node -> node.getAccessibleText()).toList()).get();
        for (int round : aside) {
            assertThat(told).filteredOn(one -> one.startsWith("round " + round + ",")).hasSize(3)
                    .allMatch(one -> one.endsWith("set aside for all") || one.endsWith("the round is set aside"));
        }
    }

    @Test
    void runsAndCallsAreChosenAndTheTableFollows() throws Exception {
        // three candidates in the last sound round, four calls and their sum
        awaitRows(15);
        List<List<String>> rows = copied();
        int sent = rows.getFirst().indexOf("sent");
        assertThat(rows.get(5).get(1)).isEqualTo("all calls");
        assertThat(rows.subList(1, 5).stream().mapToDouble(row -> Double.parseDouble(row.get(sent))).sum())
                .isEqualTo(Double.parseDouble(rows.get(5).get(sent)));
        window.enter("call-filter", "tides");
        awaitRows(3);
        window.enter("call-filter", "");
        awaitRows(15);
        window.press("examine-all-loop");
        long ofLoop = new RunFolders(folder.resolve("demo")).runs().stream()
                .filter(run -> run.candidate().equals("loop"))
                .count();
        awaitRows(10 + (int) ofLoop * 5);
        window.press("examine-all-loop");
        awaitRows(10);
        WaitForAsyncUtils.asyncFx(() -> window.robot().lookup("#examine-calls").queryAs(MenuButton.class).getItems()
                .forEach(item -> {
                    if (item instanceof CheckMenuItem check && check.getText().equals("tides")) {
                        check.setSelected(false);
                        check.getOnAction().handle(new javafx.event.ActionEvent());
                    }
                })).get();
        awaitRows(8);
        DrivenWindow.await("the words", () -> window.says("examine-calls", "3 of 4 calls"));
        WaitForAsyncUtils.asyncFx(() -> {
            CheckMenuItem timeouts = (CheckMenuItem) window.robot().lookup("#examine-kinds").queryAs(MenuButton.class)
                    .getItems().stream().filter(item -> item.getText().equals("timeout")).findFirst().orElseThrow();
            timeouts.setSelected(false);
            timeouts.getOnAction().handle(new javafx.event.ActionEvent());
        }).get();
        DrivenWindow.await("the kind that is left out", () -> window.says("examine-kinds", "without timeout"));
    }

    @Test
    void aTimeIsChosenByDraggingAndEverySideFollows() throws Exception {
        awaitRows(15);
        int sent = copied().getFirst().indexOf("sent");
        double whole = Double.parseDouble(copied().get(5).get(sent));
        window.press("side-course");
        Node figure = window.find("course-upper", Node.class).getParent().getParent().getChildrenUnmodifiable().get(1);
        WaitForAsyncUtils.waitForFxEvents();
        Bounds place = WaitForAsyncUtils.asyncFx(() -> figure.localToScreen(figure.getBoundsInLocal())).get();
        double y = place.getCenterY();
        window.robot().drag(new Point2D(place.getMinX() + place.getWidth() * 0.5, y), MouseButton.PRIMARY)
                .dropTo(new Point2D(place.getMinX() + place.getWidth() * 0.7, y));
        DrivenWindow.await("the chosen time", () -> window.says("examine-time", "second "));
        window.press("side-calls");
        awaitRows(15);
        DrivenWindow.await("the figures of that time", () -> !window.says("examine-note", "Reading"));
        assertThat(Double.parseDouble(copied().get(5).get(sent))).isBetween(whole * 0.1, whole * 0.6);
        window.press("examine-whole");
        DrivenWindow.await("the whole run", () -> !window.says("examine-time", "second"));
    }

    @Test
    void aKeptExchangeIsRead() throws Exception {
        awaitRows(15);
        window.press("side-errors");
        assertThat(window.text("failure-sums")).contains("nothing failed");
        TableView<?> kept = window.find("kept-exchanges", TableView.class);
        DrivenWindow.await("examples", () -> kept.getItems().size() > 10);
        WaitForAsyncUtils.asyncFx(() -> kept.getSelectionModel().select(3)).get();
        assertThat(window.find("kept-exchange-text", TextArea.class).getText()).contains("service time")
                .contains("HTTP/1.1").contains("GET /");
    }

    @Test
    void everySideIsDrawn() throws Exception {
        awaitRows(15);
        for (String side : List.of("tail", "spread", "bands", "course", "density", "scatter", "hosts")) {
            window.press("side-" + side);
            DrivenWindow.await("a figure of " + side,
                    () -> window.robot().lookup(".station .figure").queryAll().stream().anyMatch(Node::isVisible));
        }
        window.press("side-course");
        window.press("course-area");
        window.press("course-apart");
        DrivenWindow.await("a figure for each of the three runs",
                () -> window.robot().lookup(".station .figure").queryAll().stream().filter(Node::isVisible)
                        .count() == 3);
        window.press("course-both");
        DrivenWindow.await("both figures in one",
                () -> window.robot().lookup(".station .figure").queryAll().stream().filter(Node::isVisible)
                        .count() == 1);
        window.press("side-ladder");
        DrivenWindow.await("why there is none", () -> window.says("ladder-words", "one level of load"));
        window.press("side-story");
        DrivenWindow.await("what happened", () -> window.robot().lookup(".section-heading").queryAll().size() >= 3);
        window.press("side-tail");
        // the brush over a figure lets its menu through
        Node figure = window.robot().lookup(".station .figure").query();
        window.robot().rightClickOn(figure);
        DrivenWindow.await("the menu", () -> window.robot().lookup("Save as a picture…").tryQuery().isPresent());
        window.robot().push(KeyCode.ESCAPE);
    }
}
