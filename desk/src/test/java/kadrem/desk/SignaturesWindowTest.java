package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

import javafx.scene.Parent;
import javafx.scene.control.Label;
import kadrem.standins.habits.Habit;
import kadrem.standins.habits.HabitService;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;

/** What a practitioner would say of a service that closes each connection stands where its calls are seen. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
class SignaturesWindowTest {
    private static final String FOUND = "signature-connection-per-call";

    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();
    private HabitService closing;
    private HabitService healthy;

    @BeforeEach
    void begin() throws Exception {
        closing = HabitService.start(Habit.CLOSING, 0);
        healthy = HabitService.start(Habit.NONE, 0);
        window.prepare();
    }

    @AfterEach
    void end() throws Exception {
        window.close();
        closing.close();
        healthy.close();
    }

    private List<String> words() {
        return window.robot().lookup("#" + FOUND).queryAllAs(Parent.class).stream()
                .flatMap(block -> block.getChildrenUnmodifiable().stream()).map(Label.class::cast).map(Label::getText)
                .toList();
    }

    @Test
    void itStandsInRehearsalMeasureAndExamine() throws Exception {
        Files.writeString(folder.resolve("study.yaml"),
                """
                        kadrem: 1
                        name: Two boards
                        question: {text: "Which one?", decide: [{metric: p50}]}
                        candidates:
                          - {id: closing, name: Closing, address: "http://127.0.0.1:%d", ready: /health}
                          - {id: healthy, name: Healthy, address: "http://127.0.0.1:%d", ready: /health}
                        workload:
                          visits: [{name: look, calls: [{name: look, path: /berths/one}]}]
                        load: {model: open, arrivalsPerSecond: 40, connections: 2, warmUp: 0s, measured: 2s, timeout: 25s}
                        plan: {rounds: 1, idle: 0s, pause: 0s}
                        """
                        .formatted(closing.port(), healthy.port()));
        window.open(folder);
        window.go("rehearsal");
        window.press("rehearse");
        DrivenWindow.await("what the rehearsal shows", () -> window.isThere(FOUND));
        assertThat(words()).hasSize(3).first().asString()
                .isEqualTo("Closing: The answer to look says Connection: close.");
        assertThat(words().getLast()).startsWith("To try: look for HTTP/1.0");
        window.go("measure");
        window.press("measure");
        DrivenWindow.await("the end", () -> window.says("measure-status", "runs made"));
        window.press("run-1-closing");
        DrivenWindow.await("what the run shows", () -> window.isThere(FOUND)
                && words().getFirst().contains("connections were made for"));
        window.press("run-1-healthy");
        DrivenWindow.await("nothing of the healthy one", () -> !window.isThere(FOUND));
        window.go("examine");
        window.press("side-story");
        DrivenWindow.await("the story of the run", () -> window.isThere(FOUND));
        assertThat(words()).hasSize(3).last().asString().startsWith("To try:");
    }
}
