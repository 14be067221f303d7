package kadrem.desk;

import java.nio.file.Path;
import java.util.List;
import java.util.Locale;

import javafx.application.Platform;
import javafx.scene.control.ButtonBase;
import javafx.scene.control.TableView;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.testfx.util.WaitForAsyncUtils;

/**
 * Time in the real window from the choice of Examine to the table of a run, and from each choice of another side to its figure
 * laid out. Run by hand on a study with a long run: docs/benchmarks.md tells how.
 */
@EnabledIfSystemProperty(named = "kadrem.benchmark.long-study", matches = ".+", disabledReason = "a benchmark, run by hand")
class OpeningWindowBenchmark {
    private final DrivenWindow window = new DrivenWindow();

    @Test
    void lookAtALongRun() throws Exception {
        window.prepare();
        window.open(Path.of(System.getProperty("kadrem.benchmark.long-study")));
        long begun = System.nanoTime();
        window.go("examine");
        DrivenWindow.await("rows of the table", () -> window.robot().lookup("#call-table").tryQueryAs(TableView.class)
                .filter(table -> table.getItems().size() > 1).isPresent());
        print("Examine, from the click to the table", begun);
        for (String side : List.of("tail", "spread", "bands", "course", "density", "scatter", "errors", "hosts",
                "story",
                "calls")) {
            long pressed = System.nanoTime();
            WaitForAsyncUtils.asyncFx(() -> window.robot().lookup("#side-" + side).queryAs(ButtonBase.class).fire())
                    .get();
            // what was asked of the interface thread before is done when this is
            Platform.requestNextPulse();
            WaitForAsyncUtils.waitForFxEvents();
            print("side " + side, pressed);
        }
        window.close();
    }

    private static void print(String what, long begun) {
        System.out.println(String.format(Locale.ROOT, "window: %s %.2f s", what, (System.nanoTime() - begun) / 1e9));
    }
}
