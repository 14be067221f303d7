package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;

import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.TextField;
import javafx.scene.input.Clipboard;
import kadrem.fixtures.Ports;
import kadrem.fixtures.Programs;
import kadrem.fixtures.Repository;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/** Two commits of a service of known cost, measured beside each other from the window. */
class VersionsWindowTest {
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();

    @TempDir
    private Path folder;
    private Repository repository;
    private final DrivenWindow window = new DrivenWindow();
    private Path study;

    private void commit(int rounds) throws Exception {
        repository.commit("service/rounds", rounds + "\n");
    }

    @BeforeEach
    void begin() throws Exception {
        assumeTrue(Programs.isThere("git"), "there is no git on this machine");
        study = Files.createDirectories(folder.resolve("study"));
        Files.createDirectories(folder.resolve("service"));
        Files.writeString(folder.resolve("service/run.sh"), "exec \"" + JAVA
                + "\" -XX:TieredStopAtLevel=1 -cp \"" + System.getProperty("java.class.path")
                + "\" kadrem.standins.Main known --port $1 --set ROUNDS=$(cat rounds)\n");
        Files.writeString(study.resolve("study.yaml"),
                """
                        kadrem: 1
                        name: berth service
                        question:
                          text: Is it as fast as it was?
                          significance: 0.3
                          decide: [{metric: p50, margin: 10%%}]
                        candidates:
                          - id: service
                            address: "http://127.0.0.1:%d"
                            launch: {command: [sh, run.sh, "{{port}}"], folder: ../service}
                            ready: /
                        workload:
                          visits: [{name: look, calls: [{name: berths, path: /berths}]}]
                        load: {model: closed, users: 1, thinkTime: 10ms, warmUp: 0s, measured: 1s, timeout: 5s}
                        plan: {rounds: 3, seed: 3, pause: 0s, idle: 0s}
                        soundness:
                          limits: {other-work-on-the-host: 95%%, tail-support: 0, drift: 1000%%, late: 10000%%, generator-cpu: 100%%, other-processes: 100%%, generator-gc: 100%%, littles-law: 90%%, clock-steps: 500ms}
                        """
                        .formatted(Ports.free()));
        Files.writeString(folder.resolve(".gitignore"), "regressions\nhistory.jsonl\nuser\n.made-here\n");
        repository = Repository.in(folder);
        commit(2_000);
        // twenty times the work: a host whose speed changes by the half from run to run must not hide it
        commit(40_000);
        window.prepare();
    }

    @AfterEach
    void end() throws Exception {
        window.close();
    }

    private void measure(String before, String after, String build) throws Exception {
        window.go("compare");
        window.press("compare-history");
        DrivenWindow.await("the form", () -> window.isThere("versions-before"));
        window.enter("versions-before", before);
        window.enter("versions-after", after);
        window.enter("versions-build", build);
        window.press("measure-versions");
    }

    private void awaitOutcome(String words) throws Exception {
        DrivenWindow.await(words, () -> window.says("measure-outcome", words));
    }

    @Test
    void aSlowerCommitIsFoundAndBothAreKeptInTheHistory() throws Exception {
        window.open(study);
        window.go("compare");
        window.press("compare-history");
        DrivenWindow.await("no history", () -> window.says("history-words", "No version of this candidate"));
        assertThat(window.find("versions-before", TextField.class).getText()).isEqualTo("HEAD~1");
        assertThat(window.find("versions-after", TextField.class).getText()).isEqualTo("HEAD");

        measure("nowhere", "HEAD", "");
        awaitOutcome("The versions cannot be made ready: git rev-parse --verify");
        measure("HEAD", "HEAD", "");
        awaitOutcome("HEAD and HEAD are the same commit");
        measure("HEAD~1", "HEAD", "echo the roof leaks; exit 3");
        awaitOutcome("the roof leaks");
        measure("HEAD~1", "HEAD", "sleep 100");
        DrivenWindow.await("the build", () -> window.says("run-title", "building"));
        window.press("stop-measuring");
        DrivenWindow.await("the stop", () -> window.says("measure-status", "Stopped before the first run."));

        measure("HEAD~1", "HEAD", "echo built > built");
        awaitOutcome("settled: worse by more than the margin of 10 %");
        assertThat(window.text("measure-status")).isEqualTo("6 runs made.");
        assertThat(window.text("run-title")).as("they are no runs of the study").isEqualTo("Nothing measured yet");
        window.go("compare");
        DrivenWindow.await("both", () -> window.says("history-words", "2 versions; a change shows from 8 on"));
        assertThat(window.text("versions-told")).contains("worse by more than the margin");
        assertThat(Files.readAllLines(study.resolve("history.jsonl"))).hasSize(2);
        assertThat(repository.git("worktree", "list").lines()).as("worktrees are taken away").hasSize(1);
        assertThat(repository.git("status", "--porcelain")).as("the repository's own files are not touched").isEmpty();
    }

    @Test
    void theSameIsCopiedForAShell() throws Exception {
        window.open(study);
        window.go("compare");
        window.press("compare-history");
        DrivenWindow.await("the form", () -> window.isThere("versions-before"));
        window.enter("versions-build", "make it");
        assertThat(copied()).isEqualTo("kadrem regress . --candidate service --before HEAD~1 --after HEAD"
                + " --build 'make it'");
        ChoiceBox<String> kind = window.robot().lookup("#versions-kind").query();
        WaitForAsyncUtils.asyncFx(() -> kind.setValue(kind.getItems().getLast())).get();
        assertThat(window.find("versions-build", TextField.class).isVisible()).isFalse();
        assertThat(window.find("versions-after", TextField.class).getText()).as("its own")
                .isEqualTo("sh run.sh {{port}}");
        window.enter("versions-before", "");
        assertThat(window.find("measure-versions", Button.class).isDisabled()).isTrue();
        window.enter("versions-before", "sh run.sh {{port}}");
        window.enter("versions-after", "sh it's");
        assertThat(copied()).isEqualTo("kadrem regress . --candidate service --before-command 'sh run.sh {{port}}'"
                + " --after-command 'sh it'\\''s'");
    }

    private String copied() throws Exception {
        window.press("copy-history-command");
        return WaitForAsyncUtils.asyncFx(() -> Clipboard.getSystemClipboard().getString()).get();
    }
}
