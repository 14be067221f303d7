package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.management.ManagementFactory;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.TimeUnit;

import javafx.application.Platform;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/**
 * Nothing holds the interface thread up: between two looks at its own processor time, with nothing but what was waiting between them, no
 * more than 50 ms pass (below 100 ms an answer feels at once: Nielsen, Usability Engineering, 1993, chapter 5; half of it for a machine
 * of half the speed). Processor time, since a machine that is taken away for a while is no fault of the window's.
 */
@EnabledIf("kadrem.desk.DrivenWindow#hasDisplay")
@Timeout(value = 5, unit = TimeUnit.MINUTES)
class InterfaceThreadTest {
    private static final double LONGEST_MILLIS = 50;
    private static final List<String> STATIONS = List.of("question", "candidates", "workload", "load", "rehearsal",
            "measure", "examine", "compare", "verdict");

    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();
    private volatile String doing = "";
    private volatile boolean watching = true;
    private long before = -1;
    private final List<String> long50 = new ArrayList<>();
    private double longest;

    @BeforeEach
    void begin() throws Exception {
        window.prepare();
    }

    @AfterEach
    void end() throws Exception {
        watching = false;
        window.close();
    }

    /** Looks again as soon as what waits now is done. */
    private void look() {
        long now = ManagementFactory.getThreadMXBean().getCurrentThreadCpuTime();
        double millis = before < 0 ? 0 : (now - before) / 1e6;
        before = now;
        longest = Math.max(longest, millis);
        if (millis > LONGEST_MILLIS) {
            long50.add(String.format(Locale.ROOT, "%s: %.0f ms", doing, millis));
        }
        if (watching) {
            Platform.runLater(this::look);
        }
    }

    private void rest() throws Exception {
        TimeUnit.MILLISECONDS.sleep(700);
        WaitForAsyncUtils.waitForFxEvents();
    }

    private double go(String station) throws Exception {
        doing = station;
        longest = 0;
        window.go(station);
        rest();
        return longest;
    }

    @Test
    void noStationHoldsTheInterfaceThreadUp() throws Exception {
        doing = "opening the demo";
        Platform.runLater(this::look);
        window.open(DrivenWindow.copyOfDemo(folder));
        DrivenWindow.await("the evidence", () -> window.says("evidence-sentence", "round"));
        rest();
        rest();
        System.out.println(String.format(Locale.ROOT, "interface thread: opening %.0f ms", longest));
        // what was loaded and laid out at the first showing does not come again
        for (String times : List.of("first", "second")) {
            for (String station : STATIONS) {
                System.out.println(String.format(Locale.ROOT, "interface thread: %s look at %s %.0f ms", times, station,
                        go(station)));
            }
        }
        assertThat(long50).isEmpty();
    }
}
