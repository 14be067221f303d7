package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.function.Predicate;

import javafx.scene.control.ComboBox;
import javafx.scene.control.Labeled;
import kadrem.core.study.Crowd;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;

/** One load becomes several crowds in the real window, and one again. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
class CrowdsWindowTest {
    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();

    @BeforeEach
    void toolkit() throws Exception {
        window.prepare();
    }

    @AfterEach
    void close() throws Exception {
        window.close();
    }

    private MeasuredStudy study() {
        try {
            return StudyFile.read(folder.resolve("demo")).measured();
        } catch (StudyException cause) {
            throw new AssertionError(cause);
        }
    }

    private void awaitStudy(String what, Predicate<MeasuredStudy> condition) throws Exception {
        DrivenWindow.await(what, () -> condition.test(study()));
    }

    private String text(String id) {
        return window.robot().lookup("#" + id).queryAs(Labeled.class).getText();
    }

    private static List<String> names(MeasuredStudy study) {
        return study.load().crowds().stream().map(Crowd::name).toList();
    }

    @Test
    void oneLoadBecomesCrowdsAndOneAgain() throws Exception {
        window.open(DrivenWindow.copyOfDemo(folder));
        LoadProfile.Single before = study().load().single().orElseThrow();
        window.go("load");
        window.press("add-crowd");
        awaitStudy("two crowds", study -> names(study).equals(List.of("crowd 1", "crowd 2")));
        assertThat(study().load().crowds().getFirst().makes()).containsExactly("look for a berth", "book");
        assertThat(study().load().crowds().getLast().makes()).containsExactly("tide table");
        window.enter("crowd-name", "tourists");
        awaitStudy("its name", study -> names(study).getLast().equals("tourists"));
        window.enter("crowd-start", "4s");
        window.enter("crowd-measured", "6s");
        window.enter("crowd-arrivalsPerSecond", "30");
        awaitStudy("when it comes", study -> study.load().crowds().getLast().length().equals(Duration.ofSeconds(6))
                && study.load().crowds().getLast().own().peak() == 30);
        window.press("model-closed");
        awaitStudy("users of its own", study -> study.load().crowds().getLast()
                .load() instanceof LoadProfile.Closed users && users.users() == 20);
        assertThat(study().load().measured()).as("the run is as long as the longest").isEqualTo(before.measured());

        window.press("makes-book");
        awaitStudy("a visit that went over", study -> study.load().crowds().getLast().makes()
                .equals(List.of("tide table", "book")));
        DrivenWindow.await("whose it is",
                () -> text("makes-look-for-a-berth").contains("(crowd 1)"));

        window.press("all-crowds");
        DrivenWindow.await("all together", () -> text("sent").contains("user-seconds")
                && !window.isThere("remove-crowd"));
        assertThat(window.text("sent")).contains("user-seconds").contains("arrivals");

        window.press("crowd-1");
        DrivenWindow.await("what can be removed", () -> window.isThere("remove-crowd"));
        window.press("remove-crowd");
        awaitStudy("one load again", study -> study.load().single().isPresent());
        assertThat(study().load().single().orElseThrow()).isEqualTo(before);
    }

    @Test
    void aCrowdDecides() throws Exception {
        window.open(DrivenWindow.copyOfDemo(folder));
        window.go("load");
        window.press("add-crowd");
        awaitStudy("two crowds", study -> names(study).size() == 2);
        window.go("question");
        DrivenWindow.await("what can decide", () -> window.robot().lookup("#rows-deciders .row-choice").queryAll()
                .stream().anyMatch(node -> node instanceof ComboBox<?> choice
                        && choice.getItems().contains("p95 of crowd 2")));
        ComboBox<String> first = window.robot().lookup("#rows-deciders .row-choice").queryComboBox();
        org.testfx.util.WaitForAsyncUtils.asyncFx(() -> first.setValue("p95 of crowd 2")).get();
        awaitStudy("it decides", study -> study.question().deciders().getFirst().metric()
                .equals(Metric.P95.of("crowd 2")));
        assertThat(Files.readString(folder.resolve("demo").resolve("study.yaml"))).contains("of: crowd 2");

        window.go("load");
        window.press("crowd-1");
        window.enter("crowd-name", "tourists");
        awaitStudy("its name, where it decides too", study -> study.question().deciders().getFirst().metric()
                .equals(Metric.P95.of("tourists")));
        window.enter("answers-loop", "http://127.0.0.1:18092");
        awaitStudy("another address for it", study -> study.candidate("loop").orElseThrow().entrance("tourists")
                .address().port() == 18092);
        assertThat(study().candidate("loop").orElseThrow().entrance("crowd 1").address().port()).isEqualTo(18082);
        window.enter("answers-loop", "");
        awaitStudy("its own again", study -> study.candidate("loop").orElseThrow().elsewhere().isEmpty());
    }

    @Test
    void aCrowdNeedsAVisitOfItsOwn() throws Exception {
        Path copy = DrivenWindow.copyOfDemo(folder);
        Path file = copy.resolve("study.yaml");
        Files.writeString(file,
                Files.readString(file).replaceFirst("(?s)    - name: book.*?load:\n  model", "load:\n  model"));
        window.open(copy);
        window.go("load");
        window.press("add-crowd");
        DrivenWindow.await("why not", () -> text("rejected")
                .contains("add another visit in Workload first"));
        assertThat(study().load().single()).isPresent();
    }
}
