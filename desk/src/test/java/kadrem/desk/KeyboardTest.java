package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.TimeUnit;

import javafx.scene.Node;
import javafx.scene.Scene;
import javafx.scene.TraversalDirection;
import javafx.scene.control.ButtonBase;
import javafx.scene.control.Cell;
import javafx.scene.control.ComboBoxBase;
import javafx.scene.control.Control;
import javafx.scene.control.Labeled;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Slider;
import javafx.scene.control.Spinner;
import javafx.scene.control.TableView;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextInputControl;
import javafx.scene.control.ToggleButton;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/** All that can be pressed, typed into or chosen is reached without a mouse (Web Content Accessibility Guidelines 2.1, 2.1.1 and 2.1.2). */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
@Timeout(value = 5, unit = TimeUnit.MINUTES)
class KeyboardTest {
    private static final List<String> STATIONS = List.of("question", "candidates", "workload", "load", "rehearsal",
            "measure", "examine", "compare", "verdict");
    private static final int MAX_STEPS = 2_000;

    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();

    @BeforeEach
    void begin() throws Exception {
        window.prepare();
    }

    @AfterEach
    void end() throws Exception {
        window.close();
    }

    private static boolean isHandled(Node node) {
        return node instanceof ButtonBase || node instanceof TextInputControl || node instanceof ComboBoxBase
                || node instanceof Slider || node instanceof Spinner || node instanceof TableView;
    }

    /** A part of another control, or a row of a list, which the arrow keys reach. */
    private static boolean isPart(Node node) {
        for (Node at = node.getParent(); at != null; at = at.getParent()) {
            boolean plain = at instanceof ScrollPane || !(at instanceof Control);
            if (!plain || at instanceof Cell) {
                return true;
            }
        }
        return false;
    }

    /** Arrow keys go from one to the other of a group of which one is chosen. */
    private static boolean isReachedByArrows(Node node) {
        return node instanceof ToggleButton button && button.getToggleGroup() != null;
    }

    private static String words(Node node) {
        return node.getClass().getSimpleName() + " #" + node.getId() + " " + node.getStyleClass();
    }

    /** What is handled on the stage and is not come to by Tab, round and round. */
    private Set<String> unreached() throws Exception {
        return WaitForAsyncUtils.asyncFx(() -> {
            Scene scene = window.robot().lookup("#middle").query().getScene();
            var wanted = new HashSet<Node>();
            DrivenWindow.each(scene.getRoot(), node -> {
                if (isHandled(node) && !node.isDisabled() && DrivenWindow.isSeen(node) && !isPart(node)
                        && !isReachedByArrows(node)) {
                    wanted.add(node);
                }
            });
            var reached = new HashSet<Node>();
            scene.getRoot().requestFocusTraversal(TraversalDirection.NEXT);
            for (int i = 0; i < MAX_STEPS && scene.getFocusOwner() != null && reached.add(scene.getFocusOwner()); i++) {
                scene.getFocusOwner().requestFocusTraversal(TraversalDirection.NEXT);
            }
            assertThat(wanted).as("there is something to be come to").hasSizeGreaterThan(3);
            assertThat(reached).as("there is something to come to").hasSizeGreaterThan(5);
            wanted.removeAll(reached);
            var words = new TreeSet<String>();
            wanted.forEach(node -> words.add(words(node)));
            return words;
        }).get();
    }

    @Test
    void allOfEveryStationIsComeTo() throws Exception {
        window.open(DrivenWindow.copyOfDemo(folder));
        DrivenWindow.await("the evidence", () -> window.says("evidence-sentence", "p95"));
        for (String station : STATIONS) {
            window.go(station);
            WaitForAsyncUtils.waitForFxEvents();
            assertThat(unreached()).as(station).isEmpty();
        }
    }

    @Test
    void tabLeavesAFieldOfSeveralLines() throws Exception {
        window.openEmpty();
        DrivenWindow.await("the first screen", () -> window.isThere("given"));
        TextArea given = window.find("given", TextArea.class);
        WaitForAsyncUtils.asyncFx(given::requestFocus).get();
        window.robot().write("http://127.0.0.1:1/a");
        window.robot().push(KeyCode.TAB);
        DrivenWindow.await("the button after it", () -> window.robot().lookup("#begin").query().isFocused());
        window.robot().push(KeyCode.SHIFT, KeyCode.TAB);
        DrivenWindow.await("the field again", given::isFocused);
        assertThat(given.getText()).isEqualTo("http://127.0.0.1:1/a");
    }

    /** Of a figure over time a time is chosen by keys, and taken. */
    @Test
    void aTimeIsChosenByKeys() throws Exception {
        window.open(DrivenWindow.copyOfDemo(folder));
        window.go("examine");
        window.press("side-course");
        DrivenWindow.await("a figure over time", () -> window.robot().lookup(".time-sheet").tryQuery()
                .filter(sheet -> sheet.getBoundsInLocal().getWidth() > 0).isPresent());
        WaitForAsyncUtils.waitForFxEvents();
        WaitForAsyncUtils.asyncFx(() -> window.robot().lookup(".time-sheet").query().requestFocus()).get();
        window.robot().push(KeyCode.RIGHT);
        window.robot().push(KeyCode.RIGHT);
        window.robot().push(KeyCode.SHIFT, KeyCode.RIGHT);
        window.robot().push(KeyCode.SHIFT, KeyCode.RIGHT);
        window.robot().push(KeyCode.ENTER);
        Labeled time = window.find("examine-time", Labeled.class);
        DrivenWindow.await("the time", () -> time.getText().matches(".*second \\d+ to \\d+"));
        String[] seconds = time.getText().replaceAll("\\D+", " ").strip().split(" ");
        assertThat(Integer.parseInt(seconds[1]) - Integer.parseInt(seconds[0])).isEqualTo(3);
    }
}
