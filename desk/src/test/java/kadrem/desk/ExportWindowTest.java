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

        // what was packed is taken in again
        WaitForAsyncUtils.asyncFx(() -> into.getScene().getWindow().hide()).get();
        Path archive = folder.resolve("out/demo.zip");
        window.press("new-study");
        window.enter("new-from", folder.resolve("nothing.zip").toString());
        window.enter("new-folder", folder.resolve("copy").toString());
        DrivenWindow.await("why not", () -> window.says("new-problem", "nothing.zip"));
        window.enter("new-from", archive.toString());
        DrivenWindow.await("the study", () -> Files.exists(folder.resolve("copy/study.yaml")));
        window.go("verdict");
        DrivenWindow.await("the verdict", () -> window.says("verdict-paragraph", "is recommended"));
    }

    @Test
    void whatLooksLikeASecretIsToldBeforeItIsPacked() throws Exception {
        Path study = DrivenWindow.copyOfDemo(folder);
        Files.writeString(study.resolve("notes.txt"), "ask with password=spring-tide\n");
        window.open(study);
        window.go("verdict");
        window.press("export");
        choose("export-html");
        choose("export-record");
        choose("export-zip");
        TextField into = window.find("export-folder", TextField.class);
        WaitForAsyncUtils.asyncFx(() -> into.setText(folder.resolve("out").toString())).get();
        assertThat(window.find("export-even-so", CheckBox.class).isVisible()).isFalse();
        window.press("export-write");
        DrivenWindow.await("what was found",
                () -> window.says("export-told", "notes.txt, line 1: the value of password"));
        assertThat(folder.resolve("out/demo.zip")).doesNotExist();
        choose("export-even-so");
        window.press("export-write");
        DrivenWindow.await("the archive", () -> window.says("export-told", "Written: demo.zip."));
        assertThat(folder.resolve("out/demo.zip")).exists();
    }

    @Test
    void figuresMeasuredElsewhereBecomeAStudy() throws Exception {
        var rows = new StringBuilder("candidate,round,value\n");
        for (int round = 1; round <= 8; round++) {
            rows.append("north,").append(round).append(',').append(20 + round).append("\nsouth,").append(round)
                    .append(',')
                    .append(30 + round * 1.5).append('\n');
        }
        Path figures = Files.writeString(folder.resolve("p95.csv"), rows);
        window.openEmpty();
        window.press("new-study");
        window.enter("new-folder", folder.resolve("elsewhere").toString());
        DrivenWindow.await("a study from nothing", () -> Files.exists(folder.resolve("elsewhere/study.yaml"))
                && window.isThere("evidence-sentence"));
        window.press("new-study");
        window.enter("new-from", figures.toString());
        DrivenWindow.await("why not", () -> window.says("new-problem", "name the folder"));
        javafx.scene.control.ComboBox<?> metric = window.find("new-metric", javafx.scene.control.ComboBox.class);
        WaitForAsyncUtils.asyncFx(() -> metric.getSelectionModel().select(1)).get();
        window.enter("new-folder", folder.resolve("of-figures").toString());
        DrivenWindow.await("the study", () -> DrivenWindow.read(folder.resolve("of-figures/study.yaml"))
                .contains("metric: p95"));
        window.go("verdict");
        DrivenWindow.await("the verdict", () -> window.says("verdict-paragraph", "north is recommended"));
    }

    @Test
    void aPlaceThatCannotBeWrittenIsTold() throws Exception {
        window.open(DrivenWindow.copyOfDemo(folder));
        window.go("verdict");
        window.press("export");
        TextField into = window.find("export-folder", TextField.class);
        Files.createDirectories(folder.resolve("out"));
        Files.writeString(folder.resolve("out/report.html"), "in the way");
        // a place that cannot be written: told, and nothing lost
        WaitForAsyncUtils.asyncFx(() -> into.setText(folder.resolve("out/report.html/x").toString())).get();
        window.press("export-write");
        DrivenWindow.await("why not", () -> window.says("export-told", "The export was not written"));
        for (String id : new String[]{"export-html", "export-record"}) {
            choose(id);
        }
        assertThat(window.find("export-write", javafx.scene.control.Button.class).isDisabled())
                .as("nothing is chosen").isTrue();
    }
}
