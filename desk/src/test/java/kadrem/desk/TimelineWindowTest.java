package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import java.util.stream.IntStream;

import javafx.scene.control.CheckBox;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import kadrem.core.study.LoadProfile;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;

/** An access log becomes the load of a study in the real window. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
class TimelineWindowTest {
    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();
    private Path study;

    @BeforeEach
    void aNewStudy() throws Exception {
        window.prepare();
        study = folder.resolve("friday");
        NewStudy.create(study, "Friday at the harbour");
    }

    @AfterEach
    void close() throws Exception {
        window.close();
    }

    private LoadProfile load() {
        try {
            return StudyFile.read(study).measured().load();
        } catch (StudyException cause) {
            throw new AssertionError(cause);
        }
    }

    /** Twelve minutes of the harbour's board, of which the eighth is twice as busy. */
    private Path log() throws Exception {
        var random = new Random(7);
        return Files.write(folder.resolve("friday.log"), IntStream.range(0, 12 * 60)
                .boxed().flatMap(second -> IntStream.range(0, second / 60 == 7 ? 12 : 5 + second / 100)
                        .mapToObj(i -> "192.0.2.7 - - [27/Nov/2026:10:%02d:%02d +0100] \"%s HTTP/1.1\" %d 99"
                                .formatted(second / 60, second % 60, random.nextInt(4) > 0
                                        ? "GET /berths/" + (1 + random.nextInt(2400))
                                        : random.nextInt(4) > 0
                                                ? "GET /search?q=name" + random.nextInt(9)
                                                : "POST /bookings",
                                        i == 0 && second % 60 == 0 ? 404 : 200)))
                .toList());
    }

    private String preview() {
        return window.robot().lookup(".exchange-text").<TextArea>queryAll().stream().map(TextArea::getText)
                .filter(text -> text.contains("GET")).findFirst().orElse("");
    }

    @Test
    void aLogBecomesTheLoad() throws Exception {
        window.open(study);
        window.go("workload");
        window.click("import");
        window.enter("import-file", log().toString());
        DrivenWindow.await("the calls", () -> preview().contains("GET /berths/{{berths}}"));
        assertThat(window.text("import-summary")).contains("2 calls").contains("4xx").contains("busiest 5 minutes")
                .contains("made-up texts");
        assertThat(preview()).contains("value list berths: 1 to 2");
        window.robot().interact(() -> window.robot().lookup("#log-bodies").<CheckBox>query().fire());
        DrivenWindow.await("what was posted", () -> preview().contains("POST /bookings"));
        window.enter("log-keep", "q");
        DrivenWindow.await("the kept values", () -> {
            String said = window.robot().lookup("#import-summary").queryLabeled().getText();
            return said.contains("3 calls") && !said.contains("made-up");
        });
        window.click("import-add");
        DrivenWindow.await("the timeline", () -> load().timeline().isPresent());
        assertThat(load().timeline().orElseThrow().file()).isEqualTo("timelines/friday.csv");
        assertThat(Files.readString(study.resolve("timelines/friday.csv"))).startsWith("at,visit,berths,q\n");

        window.go("load");
        assertThat(window.find("load-timeline-length", TextField.class).getText()).isEqualTo("5min");
        assertThat(window.isThere("handle-0")).as("a curve of a file is not dragged").isFalse();
        assertThat(window.isThere("load-arrivalsPerSecond")).isFalse();
        window.enter("load-timeline-speed", "10");
        DrivenWindow.await("the speed", () -> load().measured().toSeconds() == 30);
        DrivenWindow.await("what it sends", () -> window.robot().lookup("#sent").queryLabeled().getText()
                .contains("%,d arrivals".formatted(load().timeline().orElseThrow().arrivals())));
        window.enter("load-timeline-from", "3h");
        DrivenWindow.await("why that cannot be",
                () -> window.robot().lookup("#rejected").queryLabeled().getText().contains("leaves no arrival"));
        assertThat(load().measured().toSeconds()).isEqualTo(30);

        window.click("start-steady");
        DrivenWindow.await("one rate again",
                () -> load().timeline().isEmpty() && load().single().orElseThrow().shape().isFlat());
    }

    @Test
    void whatCannotBeReadIsTold() throws Exception {
        Path log = Files.writeString(folder.resolve("x.log"), "what is this\nand this\n");
        window.open(study);
        window.go("workload");
        window.click("import");
        window.enter("import-file", log.toString());
        DrivenWindow.await("why not", () -> window.robot().lookup("#import-summary").queryLabeled().getText()
                .contains("no access log"));
        assertThat(window.robot().lookup("#import-add").queryButton().isDisabled()).isTrue();
    }
}
