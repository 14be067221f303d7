package kadrem.desk;

import java.nio.file.Path;
import java.util.List;

import javafx.scene.control.Label;
import javafx.scene.control.Spinner;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Written;
import kadrem.files.run.RunFolders;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.testfx.util.WaitForAsyncUtils;

/**
 * Measures rounds of a study in the real, visible window and prints what each run made, to be set against the same study
 * measured by {@code kadrem measure}. Run by hand: docs/benchmarks.md tells how.
 */
@EnabledIfSystemProperty(named = "kadrem.benchmark.study", matches = ".+", disabledReason = "a benchmark, run by hand")
class WindowCostBenchmark {
    @Test
    void measureInTheWindow() throws Exception {
        Path study = Path.of(System.getProperty("kadrem.benchmark.study"));
        var window = new DrivenWindow();
        window.prepare();
        window.open(study);
        window.go("measure");
        int rounds = Integer.getInteger("kadrem.benchmark.rounds", 1);
        WaitForAsyncUtils.asyncFx(() -> {
            @SuppressWarnings("unchecked")
            Spinner<Integer> spinner = window.robot().lookup("#rounds-now").queryAs(Spinner.class);
            spinner.getValueFactory().setValue(rounds);
        }).get();
        int before = new RunFolders(study).runs().size();
        window.press("measure");
        DrivenWindow.await("the end of the measurement", () -> window.robot().lookup("#measure-status")
                .queryAs(Label.class).getText().contains(" made."));
        List<RunRecord> runs = new RunFolders(study).runs();
        runs.subList(before, runs.size()).forEach(run -> System.out.println("window: " + run.figures()
                .map(figures -> Written.significant(figures.throughput()) + "/s").orElse(run.reason())));
        window.close();
    }
}
