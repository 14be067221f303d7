package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.Slider;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.input.Clipboard;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.GridPane;
import kadrem.core.verdict.Comparison;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/** Question, Compare, Verdict and further sittings in the real window, on the runs of the demo study. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "needs a display, or xvfb-run around the build")
class DecisionWindowTest {
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

    private void awaitFile(String words) throws Exception {
        DrivenWindow.await(words + " in the file",
                () -> DrivenWindow.read(study.resolve("study.yaml")).contains(words));
    }

    private void awaitWhy(String words) throws Exception {
        DrivenWindow.await("the drawer to say " + words, () -> window.robot().lookup("#why .label").queryAll().stream()
                .anyMatch(one -> ((Label) one).getText().contains(words)));
    }

    private boolean drawn() {
        return window.robot().lookup(".station .figure").queryAll().stream().anyMatch(Node::isVisible);
    }

    @Test
    void theQuestionIsTypedAndThePlanAnswers() throws Exception {
        window.open(study);
        window.go("question");
        DrivenWindow.await("the plan", () -> this.drawn() && window.isThere("plan-shows"));
        assertThat(window.find("plan-shows", Button.class).getText()).startsWith("10 rounds settle a difference of");
        window.enter("plan-rounds", "5");
        DrivenWindow.await("the warning", () -> window.isThere("too-few-rounds"));
        assertThat(window.find("plan-shows", Button.class).getText()).contains("settle nothing").contains("it takes 9");
        window.press("take-advice");
        DrivenWindow.await("the advice", () -> !window.isThere("too-few-rounds"));
        // the window shows it before the file has it
        DrivenWindow.await("the advice in the file", () -> DrivenWindow.read(study.resolve("study.yaml")).lines()
                .anyMatch(line -> line.matches(" +rounds: ([89]|\\d\\d).*")));
        window.press("plan-shows");
        assertThat(window.text("why-title")).startsWith("What the plan can show");
        awaitWhy("signed-rank");
        awaitWhy("Senn, Bretz");
        window.press("why-close");
        assertThat(window.isThere("why")).isFalse();

        window.enter("question-text", "Which one runs next season?");
        awaitFile("Which one runs next season?");
        CheckBox adaptive = window.find("plan-adaptive", CheckBox.class);
        WaitForAsyncUtils.asyncFx(adaptive::fire).get();
        awaitFile("atMost: 30");
        window.enter("question-significance", "70%");
        DrivenWindow.await("why not", () -> window.says("question-rejected", "Use a share such as 0.05"));
        assertThat(StudyFile.read(study).study().question().significance()).isEqualTo(0.05);

        window.press("add-factors");
        Node row = window.robot().lookup("#rows-factors").<javafx.scene.layout.VBox>query().getChildren().getLast();
        TextField name = WaitForAsyncUtils.asyncFx(() -> (TextField) ((javafx.scene.layout.HBox) row).getChildren()
                .getFirst()).get();
        WaitForAsyncUtils.asyncFx(() -> {
            name.setText("licence");
            name.getOnAction().handle(new javafx.event.ActionEvent());
        }).get();
        awaitFile("factor: licence");
        assertThat(StudyFile.read(study).study().question().factors().getFirst().scores())
                .as("what was judged stays").hasSize(3);
    }

    @Test
    void versionsShowWhereANewLevelBegan() throws Exception {
        window.open(study);
        window.go("compare");
        window.press("compare-history");
        DrivenWindow.await("the levels", () -> window.says("history-words", "A: p95 response time is"));
        assertThat(window.text("history-words")).contains("% higher from v1.5 on (").contains("% lower from v1.9 on (");
        window.press("copy-history-command");
        String copied = WaitForAsyncUtils.asyncFx(() -> Clipboard.getSystemClipboard().getString()).get();
        assertThat(copied).startsWith("kadrem regress . --candidate ").contains(" --before v1.")
                .endsWith(" --after HEAD");
        assertThat(drawn()).isTrue();
        Files.writeString(study.resolve("history.jsonl"),
                Files.readAllLines(study.resolve("history.jsonl")).getFirst());
        window.close();
        window.prepare();
        window.open(study);
        window.go("compare");
        window.press("compare-history");
        DrivenWindow.await("one version", () -> window.says("history-words", "1 version; a change shows from 8 on"));
        Files.delete(study.resolve("history.jsonl"));
        Files.createDirectory(study.resolve("history.jsonl"));
        window.close();
        window.prepare();
        window.open(study);
        window.go("compare");
        window.press("compare-history");
        DrivenWindow.await("why not", () -> window.says("history-words", "The history cannot be read ("));
    }

    @Test
    void theComparisonIsLookedAtFromEverySide() throws Exception {
        window.open(study);
        window.go("compare");
        window.press("compare-matrix");
        DrivenWindow.await("the matrix", () -> window.isThere("cell-throughput-loop-pool"));
        assertThat(window.find("cell-p95-loop-pool", Button.class).getText()).startsWith("▲▲");
        assertThat(window.find("cell-throughput-loop-pool", Button.class).getText()).startsWith("=");
        assertThat(window.find("cell-p95-virtual-pool", Button.class).getText()).startsWith("?");
        window.press("cell-p50-loop-pool");
        DrivenWindow.await("that metric", () -> window.robot().lookup("#outcome-loop-pool").tryQueryAs(Button.class)
                .filter(one -> one.getText().startsWith("Median response time")).isPresent());
        window.press("outcome-loop-pool");
        for (String words : List.of("Hodges–Lehmann", "Paired t:", "with 3 items that share the significance",
                "It is a hint",
                "which carries most of it")) {
            awaitWhy(words);
        }
        window.robot().push(KeyCode.F1);
        DrivenWindow.await("the drawer to shut", () -> !window.isThere("why"));
        window.robot().push(KeyCode.F1);
        DrivenWindow.await("the drawer again", () -> window.isThere("why"));
        window.press("compare-distribution");
        DrivenWindow.await("both figures",
                () -> window.robot().lookup(".station .figure").queryAll().stream().filter(Node::isVisible)
                        .count() == 2);
        window.press("compare-calls");
        TableView<?> calls = window.find("call-comparisons", TableView.class);
        DrivenWindow.await("four calls of three pairs", () -> calls.getItems().size() == 12);
        assertThat(window.text("calls-words")).contains("12 comparisons at once");
        window.press("compare-cost");
        DrivenWindow.await("costs", this::drawn);
    }

    @Test
    void aRoundIsLeftOutWithItsReasonAndTakenBack() throws Exception {
        window.open(study);
        window.go("compare");
        window.press("compare-order");
        DrivenWindow.await("the order", this::drawn);
        @SuppressWarnings("unchecked")
        ComboBox<Integer> round = window.find("round-out", ComboBox.class);
        WaitForAsyncUtils.asyncFx(() -> round.setValue(7)).get();
        DrivenWindow.await("what would change", () -> window.says("round-out-effect",
                "Without round 7"));
        window.enter("round-out-reason", "the harbour's backup ran in it");
        window.press("leave-round-out");
        awaitFile("the harbour's backup ran in it");
        DrivenWindow.await("it left out", () -> window.says("left-out", "round 7 left out by hand"));
        assertThat(window.text("evidence-sentence")).as("another round takes its place")
                .startsWith("In progress, 9 of 10 rounds: ");
        window.press("take-back-7");
        DrivenWindow.await("it back", () -> window.says("evidence-sentence", "settled against all"));
        window.press("order-by-time");
        DrivenWindow.await("by time", this::drawn);
    }

    @Test
    void weightsAndJudgementsAreAnsweredAtOnce() throws Exception {
        // of the limit of 9 ms it is not shown whether the two slower ones meet it
        window.open(study);
        window.go("verdict");
        assertThat(window.text("verdict-paragraph")).startsWith("Event loop + cache is recommended.");
        assertThat(window.find("requirement-p99-loop", Button.class).getText()).isEqualTo("✓ met");
        assertThat(window.find("requirement-p99-pool", Button.class).getText()).isEqualTo("? not shown");
        window.press("requirement-p99-pool");
        assertThat(window.text("why-title")).startsWith("p99 response time at most 9");
        window.press("why-close");

        // those that may yet be shown to meet all are ranked too, with a mark
        DrivenWindow.await("three candidates ranked", () -> window.isThere("rank-pool") && window.isThere("rank-loop"));
        assertThat(window.robot().lookup("#ranking .label").queryAll().stream().map(one -> ((Label) one).getText())
                .filter(text -> text.contains(" ?"))).hasSize(2);
        assertThat(window.find("rank-loop", Button.class).getText()).startsWith("1.");
        long begun = System.nanoTime();
        WaitForAsyncUtils.asyncFx(() -> window.robot().lookup("#weight-operation").queryAs(Slider.class).setValue(10))
                .get();
        WaitForAsyncUtils.asyncFx(
                () -> window.robot().lookup("#weight-p95-response-time").queryAs(Slider.class).setValue(0)).get();
        System.out.println("two weights moved and ranked in " + TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - begun)
                + " ms");
        assertThat(window.find("rank-pool", Button.class).getText()).as("who is easiest to run comes first now")
                .startsWith("1.");

        // from one field to the next, with the mouse: the second stays where it is while the first is saved
        window.reveal("reason-0-loop");
        window.robot().clickOn(window.find("reason-0-loop", TextField.class));
        window.robot().write(" or so");
        window.robot().clickOn(window.find("reason-0-pool", TextField.class));
        awaitFile(" or so");
        assertThat(window.find("reason-0-pool", TextField.class).isFocused()).isTrue();
        window.enter("reason-0-loop", "we learned to");
        WaitForAsyncUtils.asyncFx(() -> {
            @SuppressWarnings("unchecked")
            ComboBox<String> step = window.robot().lookup("#judge-0-loop").queryAs(ComboBox.class);
            step.getSelectionModel().select(4);
        }).get();
        DrivenWindow.await("the judgement", () -> {
            try {
                return StudyFile.read(study).study().question().factors().getFirst().scores().get("loop").step() == 5;
            } catch (kadrem.files.study.StudyException _) {
                return false;
            }
        });
    }

    @Test
    void withFewerRoundsTheWordsClaimLess() throws Exception {
        List<Path> runs;
        try (Stream<Path> all = Files.list(study.resolve("runs"))) {
            runs = all.filter(run -> Integer.parseInt(run.getFileName().toString().substring(0, 3)) > 6).toList();
        }
        for (Path run : runs) {
            try (Stream<Path> files = Files.walk(run)) {
                for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
                    Files.delete(file);
                }
            }
        }
        // those of the first six that were not disturbed
        int count = Comparison.of(StudyFile.read(study).study(), new RunFolders(study).runs()).progress().measured();
        window.open(study);
        window.go("verdict");
        assertThat(window.text("verdict-paragraph")).startsWith("In progress: " + count + " of 10 rounds are measured")
                .doesNotContain("is recommended");
        assertThat(window.robot().lookup("#not-shown .label").queryAll().stream().map(one -> ((Label) one).getText()))
                .anyMatch(text -> text.contains("Event loop + cache and Thread pool + SQL differ in p95"));
        window.go("compare");
        assertThat(window.text("early-look")).contains(count + " of 10 rounds");
        assertThat(window.text("evidence-sentence")).startsWith("In progress, " + count + " of 10 rounds");
    }

    @Test
    void figuresMeasuredElsewhereAreComparedAndTheOtherStationsSayWhyTheyAreIdle() throws Exception {
        var rows = new StringBuilder("candidate,round,value\n");
        for (int round = 1; round <= 7; round++) {
            rows.append("pool,").append(round).append(',').append(20 + round % 3).append('\n');
            rows.append("loop,").append(round).append(',').append(10 + round % 2 * 0.5).append('\n');
        }
        Path csv = Files.writeString(folder.resolve("p99.csv"), rows);
        Path elsewhere = folder.resolve("elsewhere");
        kadrem.files.compare.NewStudyOfFigures.create(elsewhere, "", csv, "p99", "ms");
        window.open(elsewhere);
        for (String station : List.of("candidates", "workload", "load", "rehearsal", "measure", "examine")) {
            window.go(station);
            DrivenWindow.await(station + " to say why",
                    () -> window.robot().lookup(".message-text").tryQuery().isPresent());
        }
        window.go("question");
        DrivenWindow.await("the plan", () -> window.isThere("plan-shows"));
        assertThat(window.find("plan-shows", Button.class).getText()).startsWith("6 rounds settle a difference");
        window.go("compare");
        assertThat(window.find("outcome-loop-pool", Button.class).getText()).contains("better by more than the margin");
        for (String side : List.of("matrix", "distribution", "calls", "order", "cost", "ladder")) {
            window.press("compare-" + side);
        }
        window.go("verdict");
        assertThat(window.text("verdict-paragraph")).startsWith("loop is recommended.");
    }

    /** Has the rounds from one on measured on another day than they were. */
    private void measured(String from, String day) throws IOException {
        try (Stream<Path> runs = Files.list(study.resolve("runs"))) {
            for (Path run : runs.filter(one -> one.getFileName().toString().compareTo(from) > 0).toList()) {
                Path file = run.resolve("run.json");
                Files.writeString(file,
                        Files.readString(file).replaceAll("(\"(started|ended)\" : \")\\d{4}-\\d\\d-\\d\\d",
                                "$1" + day));
            }
        }
    }

    @Test
    void sittingsStandSideBySide() throws Exception {
        measured("005", "2036-11-29");
        window.open(study);
        window.go("verdict");
        DrivenWindow.await("two sittings", () -> window.says("verdict-paragraph", "measured in 2 sittings"));
        List<String> texts = window.robot().lookup("#sittings .label").queryAll().stream()
                .map(one -> ((Label) one).getText()).toList();
        assertThat(texts).anyMatch(text -> text.startsWith("2036-11-29"));
        assertThat(texts).anyMatch(text -> text.matches(".*% (lower|higher) in 4 rounds"));
    }

    @Test
    void ofOneSittingThereIsNothingToCompare() throws Exception {
        window.open(study);
        window.go("verdict");
        DrivenWindow.await("a verdict", () -> window.says("verdict-paragraph", "measured in one sitting"));
        assertThat(window.find("sittings", GridPane.class).getParent().isVisible()).isFalse();
    }

    @Test
    void aFurtherSittingIsBegunAndStopped() throws Exception {
        measured("000", "2026-07-01");
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
