package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;

import javafx.scene.control.CheckBox;
import javafx.scene.control.TextField;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/** The export dialog of the real window. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "needs a display, or xvfb-run around the build")
class ExportWindowTest {
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

    private void choose(String id) throws Exception {
        CheckBox box = window.find(id, CheckBox.class);
        WaitForAsyncUtils.asyncFx(box::fire).get();
    }

    @Test
    void whatIsChosenIsWrittenAndNothingElse() throws Exception {
        window.open(DrivenWindow.copyOfDemo(folder));
        window.go("verdict");
        window.press("export");
        choose("export-data");
        choose("export-zip");
        choose("export-record");
        TextField into = window.find("export-folder", TextField.class);
        WaitForAsyncUtils.asyncFx(() -> into.setText(folder.resolve("out").toString())).get();
        window.press("export-write");
        DrivenWindow.await("the files", () -> window.says("export-told", "Written: report.html, data, "));
        assertThat(folder.resolve("out")).isDirectoryContaining("glob:**.zip")
                .isDirectoryNotContaining("glob:**decision.md");
        assertThat(Files.readString(folder.resolve("out/report.html"))).contains("is recommended");

        // a place that cannot be written: told, and nothing lost
        WaitForAsyncUtils.asyncFx(() -> into.setText(folder.resolve("out/report.html/x").toString())).get();
        window.press("export-write");
        DrivenWindow.await("why not", () -> window.says("export-told", "The export was not written"));
        for (String id : new String[]{"export-html", "export-data", "export-zip"}) {
            choose(id);
        }
        assertThat(window.find("export-write", javafx.scene.control.Button.class).isDisabled())
                .as("nothing is chosen").isTrue();
    }
}
