package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

import javafx.embed.swing.SwingFXUtils;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.TextArea;
import javax.imageio.ImageIO;
import kadrem.fixtures.Ports;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/**
 * From the first screen to the first verdict on two services that run already, one of which does 1.4 times the work of the other, in the
 * real window: wall time and presses. Run by hand, since it takes minutes: docs/proof.md tells how, and what came of it.
 */
@EnabledIfSystemProperty(named = "kadrem.benchmark.first-minutes", matches = ".+", disabledReason = "a benchmark, run by hand")
@Timeout(value = 15, unit = TimeUnit.MINUTES)
class FirstMinutesBenchmark {
    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();
    private final List<Process> services = new java.util.ArrayList<>();
    private int presses;

    @BeforeEach
    void begin() throws Exception {
        window.prepare();
    }

    @AfterEach
    void end() throws Exception {
        window.close();
        services.forEach(Process::destroy);
    }

    private static List<String> launch(int port, int rounds) {
        return List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString(), "-cp",
                System.getProperty("java.class.path"), "kadrem.standins.Main", "known", "--port",
                Integer.toString(port),
                "--set", "ROUNDS=" + rounds);
    }

    private String service(int rounds) throws IOException, InterruptedException {
        int port = Ports.free();
        services.add(new ProcessBuilder(launch(port, rounds)).redirectErrorStream(true)
                .redirectOutput(folder.resolve("service-" + port + ".log").toFile()).start());
        TimeUnit.SECONDS.sleep(2);
        return "http://127.0.0.1:" + port;
    }

    private void press(String id) throws Exception {
        window.press(id);
        presses++;
    }

    private void verdict(String way, String text) throws Exception {
        window.openEmpty();
        DrivenWindow.await("the first screen", () -> window.isThere("given"));
        long begun = System.nanoTime();
        TextArea given = window.find("given", TextArea.class);
        WaitForAsyncUtils.asyncFx(() -> given.setText(text)).get();
        press("begin");
        DrivenWindow.await("both answers", () -> window.isThere("rehearsed-0-a") && window.isThere("rehearsed-0-b"));
        DrivenWindow.await("a load", () -> window.robot().lookup("#measure-proposed").tryQuery()
                .filter(Node::isVisible).isPresent());
        if (window.isThere("accept-usual")) {
            press("accept-usual");
        }
        picture(way + "-found");
        DrivenWindow.await("agreement", () -> !window.robot().lookup("#measure-proposed").queryButton().isDisabled());
        System.out
                .println(window.text("proposed-load") + "\n" + window.find("measure-proposed", Button.class).getText());
        press("measure-proposed");
        while (!window.isThere("verdict-paragraph")) {
            TimeUnit.SECONDS.sleep(1);
        }
        TimeUnit.SECONDS.sleep(1);
        Duration took = Duration.ofNanos(System.nanoTime() - begun);
        System.out
                .println(String.format(Locale.ROOT, "%s: verdict after %d s and %d presses: %s", way, took.toSeconds(),
                        presses, window.text("verdict-paragraph")));
        picture(way + "-verdict");
        assertThat(presses).isLessThanOrEqualTo(3);
    }

    /** Kept beside the build's other output, to be looked at. */
    private void picture(String name) throws Exception {
        Path file = Files.createDirectories(Path.of("target", "pictures")).resolve(name + ".png");
        var image = WaitForAsyncUtils
                .asyncFx(() -> window.robot().lookup("#middle").query().getScene().snapshot(null))
                .get();
        ImageIO.write(SwingFXUtils.fromFXImage(image, null), "png", file.toFile());
    }

    @Test
    void byAddresses() throws Exception {
        verdict("addresses", service(3_000) + "/berths/7\n" + service(4_200) + "/berths/7\n");
    }

    @Test
    void byCurlCommands() throws Exception {
        verdict("curl", Stream.of(service(3_000), service(4_200))
                .map(address -> "curl -H 'Accept: application/json' " + address + "/berths/7")
                .reduce((a, b) -> a + "\n" + b)
                .orElseThrow());
    }

    @Test
    void byLaunchCommands() throws Exception {
        var text = new StringBuilder();
        for (int rounds : new int[]{3_000, 4_200}) {
            int port = Ports.free();
            text.append("http://127.0.0.1:").append(port).append("/berths/7 launched by ")
                    .append(String.join(" ", launch(port, rounds))).append('\n');
        }
        verdict("launch", text.toString());
    }

    @Test
    void byACapture() throws Exception {
        String one = service(3_000);
        String other = service(4_200);
        Path capture = folder.resolve("board.har");
        Files.writeString(capture, """
                {"log": {"version": "1.2", "creator": {"name": "made by hand", "version": "1"}, "entries": [
                  {"startedDateTime": "2026-07-01T10:00:00.000Z", "time": 2,
                   "request": {"method": "GET", "url": "%s/berths/7", "httpVersion": "HTTP/1.1", "cookies": [],
                               "headers": [{"name": "Accept", "value": "application/json"}], "queryString": [],
                               "headersSize": -1, "bodySize": 0},
                   "response": {"status": 200, "statusText": "OK", "httpVersion": "HTTP/1.1", "cookies": [],
                                "headers": [{"name": "Content-Type", "value": "application/json"}],
                                "content": {"size": 13, "mimeType": "application/json", "text": "{\\"berths\\":[]}"},
                                "redirectURL": "", "headersSize": -1, "bodySize": 13},
                   "cache": {}, "timings": {"send": 0, "wait": 2, "receive": 0}}]}}
                """.formatted(one));
        verdict("capture", one + "\n" + other + "\n" + capture + "\n");
    }
}
