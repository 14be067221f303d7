package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.GridPane;
import kadrem.files.run.RunFolders;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;

/** Further sittings in the real window: seen side by side, and begun. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "needs a display, or xvfb-run around the build")
class SittingsWindowTest {
    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();
    private Path study;

    @BeforeEach
    void begin() throws Exception {
        window.prepare();
        study = DrivenWindow.copyOfDemo(folder);
    }

    @AfterEach
    void end() throws Exception {
        window.close();
    }

    /** Has the rounds from 5 on measured a day later. */
    private void measuredOnTwoDays() throws IOException {
        try (Stream<Path> runs = Files.list(study.resolve("runs"))) {
            for (Path run : runs.filter(one -> one.getFileName().toString().compareTo("005") > 0).toList()) {
                Path file = run.resolve("run.json");
                Files.writeString(file,
                        Files.readString(file).replaceAll("(\"(started|ended)\" : \")\\d{4}-\\d\\d-\\d\\d",
                                "$12026-11-29"));
            }
        }
    }

    @Test
    void theyStandSideBySide() throws Exception {
        measuredOnTwoDays();
        window.open(study);
        window.go("verdict");
        DrivenWindow.await("two sittings", () -> window.says("verdict-paragraph", "measured in 2 sittings"));
        List<String> texts = window.robot().lookup("#sittings .label").queryAll().stream()
                .map(one -> ((Label) one).getText()).toList();
        assertThat(texts).anyMatch(text -> text.startsWith("2026-11-29"));
        assertThat(texts).anyMatch(text -> text.matches(".*% (lower|higher) in 4 rounds"));
    }

    @Test
    void ofOneThereIsNothingToCompare() throws Exception {
        window.open(study);
        window.go("verdict");
        DrivenWindow.await("a verdict", () -> window.says("verdict-paragraph", "measured in one sitting"));
        assertThat(window.find("sittings", GridPane.class).getParent().isVisible()).isFalse();
    }

    @Test
    void aFurtherOneIsBegunAndStopped() throws Exception {
        window.open(study);
        window.go("measure");
        int before = new RunFolders(study).runs().size();
        assertThat(window.find("measure-again", Button.class).isVisible()).isTrue();
        window.press("measure-again");
        DrivenWindow.await("the sitting",
                () -> window.says("measure-outcome", "A further sitting, the 2. of this study"));
        DrivenWindow.await("a run", () -> new RunFolders(study).runs().size() > before);
        window.press("stop-measuring");
        DrivenWindow.await("the end", () -> !window.robot().lookup("#measure-again").queryButton().isDisabled());
    }
}
