package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;

import javafx.scene.Node;
import javafx.scene.control.ListView;
import javafx.scene.control.ComboBox;
import javafx.scene.control.ListCell;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/** The keyboard alone leads to stations, calls, candidates and figures, takes back edits where they were made, and makes all larger. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
class FindingTest {
    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();
    private Path study;

    @BeforeEach
    void begin() throws Exception {
        window.prepare();
        study = DrivenWindow.copyOfDemo(folder).resolve("study.yaml");
        window.open(study.getParent());
        DrivenWindow.await("the evidence", () -> window.says("evidence-sentence", "p95"));
    }

    @AfterEach
    void end() throws Exception {
        window.close();
    }

    private void keys(KeyCode... keys) {
        window.robot().push(keys);
    }

    private void find(String words) throws Exception {
        keys(KeyCode.CONTROL, KeyCode.F);
        DrivenWindow.await("the line to type into", () -> window.isThere("find"));
        TextField line = window.find("find", TextField.class);
        DrivenWindow.await("the keyboard there", line::isFocused);
        org.testfx.util.WaitForAsyncUtils.asyncFx(() -> line.setText(words)).get();
        DrivenWindow.await("something found", () -> !window.robot().lookup("#found").<ListView<?>>query().getItems()
                .isEmpty());
        keys(KeyCode.ENTER);
        DrivenWindow.await("it to be gone", () -> !window.isThere("find"));
    }

    private boolean isOn(String station) {
        return window.robot().lookup("#spine-" + station).<javafx.scene.control.ToggleButton>query().isSelected();
    }

    @Test
    void whatHasANameIsFoundByIt() throws Exception {
        find("scatter");
        DrivenWindow.await("Examine", () -> isOn("examine"));
        find("one-berth");
        DrivenWindow.await("the call", () -> isOn("workload")
                && window.robot().lookup("#call-name").<TextField>query().getText().equals("one-berth"));
        find("loop candidates");
        DrivenWindow.await("the candidate's address in hand", () -> isOn("candidates")
                && window.robot().lookup("#address-loop").query().isFocused());
        keys(KeyCode.CONTROL, KeyCode.F);
        DrivenWindow.await("the line", () -> window.isThere("find"));
        keys(KeyCode.ESCAPE);
        DrivenWindow.await("it to be gone", () -> !window.isThere("find"));
        assertThat(isOn("candidates")).isTrue();
    }

    @Test
    void anEditIsTakenBackWhereItWasMade() throws Exception {
        window.go("load");
        String before = DrivenWindow.read(study);
        window.enter("load-timeout", "7s");
        keys(KeyCode.ENTER);
        DrivenWindow.await("the edit", () -> DrivenWindow.read(study).contains("timeout: 7s"));
        window.go("verdict");
        keys(KeyCode.CONTROL, KeyCode.Z);
        DrivenWindow.await("the file as it was", () -> DrivenWindow.read(study).equals(before));
        DrivenWindow.await("Load", () -> isOn("load"));
    }

    @Test
    void allIsShownLargerAndStaysSo() throws Exception {
        Node heading = window.robot().lookup(".station-heading").query();
        double before = heading.localToScene(heading.getBoundsInLocal()).getHeight();
        awaitListOf(14);
        keys(KeyCode.CONTROL, KeyCode.EQUALS);
        keys(KeyCode.CONTROL, KeyCode.EQUALS);
        DrivenWindow.await("larger",
                () -> heading.localToScene(heading.getBoundsInLocal()).getHeight() > before * 1.15);
        awaitListOf(14 * 1.1 * 1.1);
        DrivenWindow.await("to be kept", () -> Files.exists(DrivenWindow.kept())
                && DrivenWindow.read(DrivenWindow.kept()).contains("zoom=1.2"));
        window.close();
        window.open(study.getParent());
        // a window that has just come up is not laid out yet
        Node again = window.robot().lookup(".station-heading").query();
        DrivenWindow.await("larger at once",
                () -> again.localToScene(again.getBoundsInLocal()).getHeight() > before * 1.15);
        keys(KeyCode.CONTROL, KeyCode.DIGIT0);
        DrivenWindow.await("as made",
                () -> Math.abs(again.localToScene(again.getBoundsInLocal()).getHeight() - before) < 0.5);
        DrivenWindow.await("to be kept", () -> DrivenWindow.read(DrivenWindow.kept()).contains("zoom=1.0"));
        awaitListOf(14);
    }

    /** The list of baselines is a window of its own. */
    private void awaitListOf(double fontSize) throws Exception {
        window.go("question");
        ComboBox<?> box = window.robot().lookup("#question-baseline").query();
        WaitForAsyncUtils.asyncFx(box::show).get();
        DrivenWindow.await("rows of a font of " + fontSize, () -> window.robot().lookup(".combo-box-popup .list-cell")
                .<ListCell<?>>tryQuery().filter(row -> Math.abs(row.getFont().getSize() - fontSize) < 0.1).isPresent());
        WaitForAsyncUtils.asyncFx(box::hide).get();
    }
}
