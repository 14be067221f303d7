package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

import javafx.event.Event;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.Labeled;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.input.ContextMenuEvent;
import javafx.scene.input.KeyCode;
import kadrem.core.study.Agreement;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.ValueList;
import kadrem.core.study.Workload;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyFile;
import kadrem.fixtures.Answering;
import kadrem.fixtures.Ports;
import kadrem.standins.berths.LoopService;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/** Studies are made, imported into, rehearsed and mended in the window alone, against two stand-ins that run already. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
class StudyMakingTest {
    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();
    private LoopService one;
    private LoopService other;

    @BeforeEach
    void begin() throws Exception {
        one = LoopService.on(0);
        other = LoopService.on(0);
        window.prepare();
    }

    @AfterEach
    void end() throws Exception {
        window.close();
        one.close();
        other.close();
    }

    private MeasuredStudy saved(Path study) throws Exception {
        return StudyFile.read(study).measured();
    }

    private void awaitSaved(Path study, String text) throws Exception {
        Path file = study.resolve("study.yaml");
        try {
            DrivenWindow.await("\"" + text + "\" in the file", () -> DrivenWindow.read(file).contains(text));
        } catch (AssertionError waited) {
            String said = window.robot().lookup(".problem").queryAllAs(Label.class).stream().map(Label::getText)
                    .filter(words -> !words.isEmpty()).toList().toString();
            throw new AssertionError(waited.getMessage() + "; the window says " + said + ", the file "
                    + DrivenWindow.read(file), waited);
        }
    }

    private static String address(LoopService service) {
        return "http://127.0.0.1:" + service.port();
    }

    /** A study with two candidates and one call, as the window makes it. */
    private Path small() throws Exception {
        Path study = folder.resolve("small");
        NewStudy.create(study, "Two boards");
        Path file = study.resolve("study.yaml");
        Files.writeString(file, DrivenWindow.read(file).replace("    address: http://127.0.0.1:8080\n",
                "    address: " + address(one) + "\n    ready: /health\n  - id: b\n    name: Board B\n    address: "
                        + address(other) + "\n    ready: /health\n")
                .replace("path: /\n", "path: /berths/7\n").replace("measured: 20s", "measured: 1s")
                .replace("warmUp: 5s", "warmUp: 0s").replace("timeout: 5s", "timeout: 25s"));
        return study;
    }

    /** A study that was made in a hurry is named when it is worth keeping; what stood against the new place is told. */
    @Test
    void aStudyIsNamedAndMovedLater() throws Exception {
        Path study = small();
        window.open(study);
        window.go("question");
        window.enter("study-name", "Board of next season");
        awaitSaved(study, "Board of next season");
        Path taken = Files.createDirectories(folder.resolve("taken"));
        Files.writeString(taken.resolve("other.txt"), "somebody's");
        window.enter("study-folder", taken.toString());
        DrivenWindow.await("the objection", () -> window.robot().lookup("#study-place-said").<Label>query().getText()
                .contains("not empty"));
        assertThat(study.resolve("study.yaml")).exists();
        Path kept = folder.resolve("seasons").resolve("next");
        window.enter("study-folder", kept.toString());
        DrivenWindow.await("the move", () -> window.robot().lookup("#study-place-said").<Label>query().getText()
                .equals("The study is here now."));
        assertThat(study).doesNotExist();
        window.enter("question-text", "Which board is it to be?");
        awaitSaved(kept, "Which board is it to be?");
        assertThat(window.isThere("untrusted")).as("the user's word goes along").isFalse();
    }

    /** Chooses in a box once it is drawn: before that it tells nobody of a choice. */
    @SuppressWarnings("unchecked")
    private void pick(String id, String choice) throws Exception {
        DrivenWindow.await("#" + id + " to be drawn", () -> window.robot().lookup("#" + id)
                .<ComboBox<String>>tryQuery().filter(box -> box.getSkin() != null).isPresent());
        window.robot().interact(() -> ((ComboBox<String>) window.robot().lookup("#" + id).query()).setValue(choice));
    }

    /** Whatever study.yaml can say of a workload, the window can: lists, parts, what all calls have, the first part. */
    @Test
    void aWorkloadIsEditedWholeInTheWindow() throws Exception {
        Path study = small();
        window.open(study);
        window.go("workload");
        window.press("add-list");
        window.enter("list-name", "at");
        pick("list-kind", "timestamp");
        window.enter("list-from", "2026-07-01T00:00:00Z");
        window.enter("list-to", "2026-07-31T00:00:00Z");
        pick("list-order", "per-user");
        window.press("list-form-save");
        awaitSaved(study, "per-user");
        assertThat(saved(study).workload().values()).singleElement().isEqualTo(new ValueList.Timestamp("at",
                Instant.parse("2026-07-01T00:00:00Z"), Instant.parse("2026-07-31T00:00:00Z"), false,
                new ValueList.Draw(ValueList.Order.PER_USER, ValueList.Keep.VISIT)));
        DrivenWindow.await("the list", () -> window.isThere("change-list-at"));
        window.press("change-list-at");
        pick("list-kind", "zipf");
        window.enter("list-from", "1");
        window.enter("list-to", "2400");
        window.enter("list-exponent", "1.1");
        assertThat(window.isThere("list-as")).as("is for timestamps").isFalse();
        assertThat(window.isThere("list-keep")).as("is for rows that come at random").isFalse();
        pick("list-order", "random");
        pick("list-keep", "call");
        window.press("list-form-save");
        awaitSaved(study, "zipf");
        assertThat(saved(study).workload().values()).singleElement().isEqualTo(new ValueList.Zipf("at", 1, 2400, 1.1,
                new ValueList.Draw(ValueList.Order.RANDOM, ValueList.Keep.CALL)));

        window.press("all-calls");
        pick("workload-choose", "in-turn");
        awaitSaved(study, "choose: in-turn");
        window.enter("all-timeout", "3s");
        awaitSaved(study, "timeout: 3s");
        window.enter("all-status", "200-299");
        awaitSaved(study, "200-299");
        window.press("add-first-call");
        awaitSaved(study, "first:");
        window.enter("call-path", "/health");
        awaitSaved(study, "path: /health");
        pick("call-body-kind", "parts");
        window.press("add-parts");
        window.robot().interact(() -> {
            List<TextField> fields = window.robot().lookup("#rows-parts .text-field").<TextField>queryAll().stream()
                    .toList();
            fields.get(0).setText("note");
            fields.get(1).setText("hello");
            fields.get(1).fireEvent(new javafx.event.ActionEvent());
        });
        awaitSaved(study, "parts:");
        MeasuredStudy made = saved(study);
        assertThat(made.workload().choice()).isEqualTo(Workload.Choice.IN_TURN);
        assertThat(made.workload().first()).singleElement().satisfies(call -> {
            assertThat(call.timeout()).contains(Duration.ofSeconds(3));
            assertThat(call.body()).isEqualTo(new Body.Multipart(List.of(new Body.Part("note",
                    new Body.Text(Body.Kind.TEXT, "hello")))));
        });
        window.press("remove-list-at");
        DrivenWindow.await("no list", () -> !DrivenWindow.read(study.resolve("study.yaml")).contains("zipf"));
    }

    @Test
    void whenAnswersCountAsTheSameIsSaidInTheWindow() throws Exception {
        Path study = small();
        window.open(study);
        window.go("rehearsal");
        window.enter("ignore-headers", "ETag, X-Trace");
        awaitSaved(study, "X-Trace");
        window.enter("tolerance", "0.1%");
        awaitSaved(study, "tolerance: 0.1%");
        window.press("arrays-as-sets");
        awaitSaved(study, "as-sets");
        assertThat(saved(study).agreement()).isEqualTo(new Agreement(List.of("ETag", "X-Trace"), List.of(), 0.001,
                true, List.of()));
    }

    /** Commands of a study that came from elsewhere are shown, and nothing is run before the user has agreed. */
    @Test
    void commandsOfAForeignStudyAreShownBeforeTheyAreRun() throws Exception {
        Path study = small();
        Path ran = folder.resolve("ran");
        Path file = study.resolve("study.yaml");
        Files.writeString(file, DrivenWindow.read(file).replaceFirst("    ready: /health\n",
                "    ready: /health\n    reset: {command: [touch, \"" + ran + "\"]}\n"));
        window.openFromElsewhere(study);
        window.go("rehearsal");
        window.press("rehearse");
        DrivenWindow.await("the refusal", () -> window.says("rehearsal-status", "under Candidates"));
        window.press("read-consent");
        assertThat(window.texts("consent-list")).contains("candidate, reset: touch " + ran)
                .anyMatch(line -> line.startsWith("b, load: http://"));
        assertThat(window.text("consent-title")).contains("It came from elsewhere");
        window.press("probe-candidate");
        DrivenWindow.await("the refusal", () -> window.says("status-candidate", "waits for your word"));
        assertThat(ran).doesNotExist();
        window.press("allow-study");
        DrivenWindow.await("no further question", () -> !window.isThere("untrusted"));
        window.go("rehearsal");
        window.press("rehearse");
        DrivenWindow.await("the reset", () -> Files.exists(ran));
        DrivenWindow.await("the answers", () -> window.isThere("rehearsed-0-b"));
    }

    @Test
    void aStudyIsMadeFromNothing() throws Exception {
        Path study = folder.resolve("made");
        window.openEmpty();
        window.press("new-study");
        window.enter("new-folder", study.toString());
        window.find("question-text", TextField.class);
        window.go("candidates");
        window.find("add-candidate", Button.class);
        window.enter("address-candidate", address(one));
        awaitSaved(study, address(one));
        window.enter("ready-probe-candidate", "/health");
        awaitSaved(study, "ready: /health");
        window.press("duplicate-candidate");
        DrivenWindow.await("the copy", () -> window.isThere("name-candidate-2"));
        window.enter("name-candidate-2", "The other board");
        awaitSaved(study, "The other board");
        window.enter("address-candidate-2", address(other));
        awaitSaved(study, address(other));

        window.go("workload");
        window.press("add-list");
        window.enter("list-name", "berth");
        window.enter("list-from", "1");
        window.enter("list-to", "2400");
        window.press("list-form-save");
        awaitSaved(study, "to: ");
        window.enter("call-path", "/berths/{{berth}}");
        awaitSaved(study, "/berths/{{berth}}");
        window.press("add-expectations");
        window.press("add-call");
        awaitSaved(study, "name: call-2");
        DrivenWindow.await("the new call in the editor",
                () -> window.robot().lookup("#call-name").queryAs(TextField.class).getText().equals("call-2"));
        window.enter("call-path", "/tides/north-mole?day=2026-07-14");
        awaitSaved(study, "/tides/north-mole");
        MeasuredStudy made = saved(study);
        assertThat(made.candidates()).extracting(candidate -> candidate.address().toString())
                .containsExactly(address(one), address(other));
        assertThat(made.candidates().get(1).ready()).isEqualTo("/health");
        assertThat(made.workload().calls()).extracting(Call::path).containsExactly("/berths/{{berth}}",
                "/tides/north-mole?day=2026-07-14");

        window.go("rehearsal");
        window.press("rehearse");
        DrivenWindow.await("the answers", () -> window.isThere("rehearsed-1-candidate-2"));
        assertThat(window.find("rehearsed-0-candidate", Button.class).getText()).startsWith("200");
        window.press("rehearsed-0-candidate-2");
        assertThat(window.text("exchange-title")).isEqualTo("call, The other board");
        assertThat(window.find("exchange-text", TextArea.class).getText()).contains("\"quay\"");
    }

    @Test
    void expectationsAndBodiesAreWrittenIntoTheForm() throws Exception {
        Path study = small();
        window.open(study);
        window.go("workload");
        window.enter("call-status", "200, 404");
        awaitSaved(study, "404");
        window.enter("call-within", "2s");
        awaitSaved(study, "within: 2s");
        window.enter("call-thinkTime", "uniform 10ms to 20ms");
        awaitSaved(study, "uniform 10ms to 20ms");
        window.enter("call-thinkTime", "soon");
        DrivenWindow.await("the refusal",
                () -> window.says("workload-rejected", "soon"));
        assertThat(window.text("workload-rejected")).contains("thinkTime is \"soon\"").contains("last good state");
        ComboBox<?> kind = window.find("call-body-kind", ComboBox.class);
        WaitForAsyncUtils.asyncFx(() -> kind.getSelectionModel().select(1)).get();
        window.enter("call-body", "{\"berth\": 7}");
        window.robot().clickOn(window.find("call-name", TextField.class));
        awaitSaved(study, "body:");
        Call call = saved(study).workload().calls().getFirst();
        assertThat(call.expected().status().toString()).isEqualTo("200 or 404");
        assertThat(call.body().templates()).containsExactly("{\"berth\": 7}");
        window.press("add-visit");
        awaitSaved(study, "visit 2");
        window.press("visit-1");
        window.enter("visit-share", "30");
        awaitSaved(study, "share: 30");
        window.press("remove");
        DrivenWindow.await("the visit to go",
                () -> !DrivenWindow.read(study.resolve("study.yaml")).contains("visit 2"));
    }

    @Test
    void aCaptureIsImportedAfterAPreview() throws Exception {
        Path study = small();
        window.open(study);
        window.go("workload");
        window.press("import");
        window.enter("import-file", Path.of("../files/src/test/resources/kadrem/files/imports/board.har").toString());
        DrivenWindow.await("the preview", () -> window.robot().lookup("#import-summary").queryAs(Label.class).getText()
                .startsWith("4 calls kept"));
        window.press("import-add");
        awaitSaved(study, "POST");
        assertThat(saved(study).workload().visits()).hasSize(2);
        DrivenWindow.await("the strand", () -> window.isThere("bead-get-berths"));
        window.press("import");
        window.enter("import-pasted", "curl 'http://h/berths/9' -H 'Accept: text/plain'");
        DrivenWindow.await("the preview", () -> window.robot().lookup("#import-summary").queryAs(Label.class).getText()
                .startsWith("1 call kept"));
        window.enter("import-pasted", "curl 'http://h");
        DrivenWindow.await("the refusal", () -> window.robot().lookup("#import-summary").queryAs(Label.class).getText()
                .contains("quote is not closed"));
        assertThat(window.find("import-add", Button.class).isDisabled()).isTrue();
    }

    @Test
    void expectationsAreAddedRowByRowAndTakenBack() throws Exception {
        Path study = small();
        window.open(study);
        window.go("workload");
        window.press("add-expectations");
        TextField what = (TextField) window.robot().lookup("#rows-expectations .text-field").queryAll().iterator()
                .next();
        window.robot().clickOn(what);
        window.robot().write("$.free");
        window.robot().clickOn(window.find("call-name", TextField.class));
        awaitSaved(study, "$.free");
        assertThat(saved(study).workload().calls().getFirst().expected().content()).singleElement()
                .satisfies(one -> assertThat(one.words()).isEqualTo("$.free is there"));
        DrivenWindow.await("the row", () -> window.robot().lookup("#rows-expectations .button").tryQuery().isPresent());
        Button remove = window.robot().lookup("#rows-expectations .button").queryButton();
        WaitForAsyncUtils.asyncFx(remove::fire).get();
        DrivenWindow.await("the expectation to go",
                () -> !DrivenWindow.read(study.resolve("study.yaml")).contains("$.free"));
    }

    @Test
    void whatAClientSendsIsRecorded() throws Exception {
        Path study = small();
        int port = Ports.free();
        window.open(study);
        window.go("workload");
        window.press("import");
        window.enter("import-port", Integer.toString(port));
        window.press("import-record");
        DrivenWindow.await("the proxy", () -> window.robot().lookup("#import-summary").queryAs(Label.class).getText()
                .startsWith("Recording."));
        try (HttpClient client = HttpClient.newBuilder()
                .proxy(java.net.ProxySelector.of(new java.net.InetSocketAddress("127.0.0.1", port))).build()) {
            for (String path : List.of("/berths/7", "/berths/8", "/style.css")) {
                client.send(HttpRequest.newBuilder(URI.create(address(one) + path)).build(),
                        HttpResponse.BodyHandlers.discarding());
            }
        }
        DrivenWindow.await("the calls", () -> window.robot().lookup("#import-summary").queryAs(Label.class).getText()
                .startsWith("1 call kept; left out: 1 static files, 1 alike but for an id"));
        window.press("import-add");
        awaitSaved(study, "/berths/{{berths}}");
        assertThat(saved(study).workload().visits().getLast().name()).isEqualTo("recorded");
    }

    @Test
    void aRecordingEndsWithItsPaneAndWithTheWindow() throws Exception {
        int port = Ports.free();
        window.open(small());
        window.go("workload");
        for (String leaving : List.of("import", "import-back", "")) {
            if (!window.isThere("import-record")) {
                window.press("import");
            }
            window.enter("import-port", Integer.toString(port));
            window.press("import-record");
            DrivenWindow.await("the proxy", () -> !isFree(port));
            if (leaving.isEmpty()) {
                window.close();
            } else {
                window.press(leaving);
            }
            for (int i = 0; i < 600 && !isFree(port); i++) {
                java.util.concurrent.TimeUnit.MILLISECONDS.sleep(50);
            }
            assertThat(isFree(port)).as("after \"" + leaving + "\"").isTrue();
        }
    }

    private static boolean isFree(int port) {
        try (var socket = new java.net.ServerSocket(port, 1, java.net.InetAddress.getLoopbackAddress())) {
            return socket.isBound();
        } catch (java.io.IOException _) {
            return false;
        }
    }

    @Test
    void differencesThatAreMeantAreTicked() throws Exception {
        Path study = small();
        Files.writeString(study.resolve("study.yaml"), DrivenWindow.read(study.resolve("study.yaml"))
                .replaceFirst("ready: /health\n  - id: b", "ready: /health?a\n  - id: b"));
        window.open(study);
        window.go("candidates");
        window.press("intended-ready-probe");
        awaitSaved(study, "intendedDifferences:");
        assertThat(saved(study).intended()).containsExactly("ready probe");
        window.press("remove-b");
        DrivenWindow.await("the candidate to go", () -> !window.isThere("name-b"));
        assertThat(saved(study).candidates()).hasSize(1);
        window.press("add-candidate");
        DrivenWindow.await("another", () -> window.isThere("name-candidate-2"));
    }

    @Test
    void aDifferenceBlocksTheMeasurementUntilItIsAcceptedWithAReason() throws Exception {
        Path study = small();
        try (HttpClient client = HttpClient.newHttpClient()) {
            client.send(HttpRequest.newBuilder(URI.create(address(other) + "/reservations"))
                    .POST(HttpRequest.BodyPublishers.ofString(
                            "{\"berth\":7,\"day\":\"2027-06-01\",\"nights\":2,\"vessel\":\"Tern\"}"))
                    .build(), HttpResponse.BodyHandlers.discarding());
        }
        window.open(study);
        window.go("rehearsal");
        window.press("rehearse");
        DrivenWindow.await("the difference", () -> window.robot().lookup("Accept").tryQuery().isPresent());
        window.go("measure");
        window.press("measure");
        DrivenWindow.await("the refusal", () -> window.says("measure-status", "Nothing was measured")
                && window.says("measure-outcome", "The rehearsal found"));
        assertThat(study.resolve("runs")).doesNotExist();
        window.go("rehearsal");
        TextField reason = (TextField) window.robot().lookup(node -> node instanceof TextField field
                && "why it does not matter".equals(field.getPromptText())).query();
        window.robot().clickOn(reason);
        window.robot().write("a stay of the test's own\n");
        awaitSaved(study, "a stay of the test's own");
        DrivenWindow.await("the agreement", () -> window.robot().lookup("Accept").tryQuery().isEmpty());
        window.go("measure");
        window.press("measure");
        DrivenWindow.await("the first run", () -> window.robot().lookup("#run-title").queryAs(Label.class).getText()
                .startsWith("Round 1"));
        window.press("stop-measuring");
        DrivenWindow.await("the end", () -> !window.robot().lookup("#measure").queryButton().isDisabled());
    }

    /** From nothing but two addresses to both answers side by side, a load that is found, and its first run. */
    @Test
    void twoAddressesOnTheFirstScreenBecomeAStudy() throws Exception {
        window.openEmpty();
        DrivenWindow.await("the first screen", () -> window.isThere("given"));
        assertThat(window.find("begin", Button.class).isDisabled()).isTrue();
        TextArea given = window.find("given", TextArea.class);
        WaitForAsyncUtils.asyncFx(() -> given.setText("hello")).get();
        window.press("begin");
        DrivenWindow.await("why not",
                () -> window.says("given-problem", "neither an address of HTTP nor a curl command"));
        WaitForAsyncUtils.asyncFx(() -> given.setText(address(one) + "/berths/7\n" + address(other) + "/berths/7\n"))
                .get();
        window.press("begin");
        DrivenWindow.await("both answers, without another press",
                () -> window.isThere("rehearsed-0-a") && window.isThere("rehearsed-0-b"));
        assertThat(window.find("rehearsed-0-a", Button.class).getText()).startsWith("200");
        assertThat(window.find("rehearsed-0-b", Button.class).getText()).startsWith("200");
        DrivenWindow.await("a load that was found", () -> window.robot().lookup("#measure-proposed").tryQuery()
                .filter(Node::isVisible).isPresent());
        assertThat(window.find("measure-proposed", Button.class).getText())
                .matches("Measure: \\d+ rounds, about \\d+ min");
        assertThat(window.text("proposed-load")).contains("calls/s").contains("four times in five");
        window.press("measure-proposed");
        DrivenWindow.await("the first run", () -> window.robot().lookup("#run-title").tryQueryAs(Label.class)
                .filter(title -> title.getText().startsWith("Round 1")).isPresent());
        window.press("stop-measuring");
        DrivenWindow.await("the end", () -> window.says("measure-status", "Stopped"));
        assertThat(window.isThere("measure-status")).as("who stops stays where they are").isTrue();
    }

    @Test
    void aStudyThatWasOpenIsOnTheFirstScreenWithWhatItSaid() throws Exception {
        Path study = small();
        window.open(study);
        window.close();
        window.prepare();
        window.openEmpty();
        DrivenWindow.await("the first screen", () -> window.isThere("recent-0"));
        assertThat(window.find("recent-0", Button.class).getText()).isEqualTo("Two boards");
        assertThat(window.robot().lookup(".muted").queryAllAs(Label.class)).extracting(Label::getText)
                .contains("Nothing measured yet that can be compared.");
        window.press("recent-0");
        DrivenWindow.await("the study", () -> window.isThere("evidence-sentence"));
    }

    @Test
    void aTableOfFiguresLeadsToWhatHasToBeSaidOfIt() throws Exception {
        window.openEmpty();
        DrivenWindow.await("the first screen", () -> window.isThere("given"));
        TextArea given = window.find("given", TextArea.class);
        WaitForAsyncUtils.asyncFx(() -> given.setText(folder.resolve("figures.csv").toString())).get();
        window.press("begin");
        DrivenWindow.await("the rest", () -> window.isThere("new-from"));
        assertThat(window.find("new-from", TextField.class).getText()).endsWith("figures.csv");
    }

    @Test
    void whatIsNotTakenOverIsToldOnTheFirstScreen() throws Exception {
        window.openEmpty();
        DrivenWindow.await("the first screen", () -> window.isThere("given"));
        TextArea given = window.find("given", TextArea.class);
        WaitForAsyncUtils.asyncFx(() -> given.setText("curl " + address(one) + "/berths/7 -H 'X-API-Key: neap-tide-7'\n"
                + "curl " + address(other) + "/berths/7")).get();
        window.press("begin");
        DrivenWindow.await("the note", () -> window.isThere("go-on"));
        assertThat(window.robot().lookup("#given-notes .label").queryAllAs(Label.class)).extracting(Label::getText)
                .anyMatch(note -> note.contains("KADREM_X_API_KEY") && !note.contains("neap-tide"));
        window.press("go-on");
        DrivenWindow.await("why it cannot be asked", () -> window.robot().lookup(".problem").queryAll().stream()
                .anyMatch(node -> node instanceof Label why && why.getText().contains("KADREM_X_API_KEY")));
    }

    /** A call is tried where it is written, as it is typed, by a press or by the keys. */
    @Test
    void aCallIsTriedWhereItIsWritten() throws Exception {
        Path study = small();
        window.open(study);
        window.go("workload");
        window.press("try-call");
        DrivenWindow.await("both answers", () -> window.isThere("tried-candidate") && window.isThere("tried-b"));
        assertThat(window.robot().lookup("#tried-b").queryAs(Labeled.class).getText()).startsWith("200");
        assertThat(window.robot().lookup("#exchange-title").queryAllAs(Label.class)).extracting(Label::getText)
                .anyMatch(title -> title.endsWith(", Candidate A"));
        // what is pointed at is expected, captured, or let differ
        pointAt("\"Alder\"", "Expect $.quay to be Alder");
        awaitSaved(study, "$.quay: Alder");
        pointAt("\"nights\"", "Capture $.reservations[0].nights");
        awaitSaved(study, "nights:");
        pointAt("\"depth\"", "Let $.depth differ");
        awaitSaved(study, "$.depth");
        long vessels = Pattern.compile("\"vessel\"\\s*:\\s*\"([^\"]+)\"")
                .matcher(window.robot().lookup("#exchange-text").queryAs(TextArea.class).getText()).results()
                .map(found -> found.group(1)).distinct().count();
        pointAt("\"vessel\"", "Make a value list of $.reservations[*].vessel, " + vessels + " values");
        awaitSaved(study, "kind: pick");
        assertThat(saved(study).workload().values()).last().isInstanceOfSatisfying(ValueList.Listed.class,
                list -> assertThat(list.rows()).as(list.name()).hasSize((int) vessels).doesNotHaveDuplicates());
        assertThat(window.text("try-words")).isEqualTo("Write {{vessel}} where one of them is to stand.");
        assertThat(saved(study).workload().calls().getFirst().captures()).singleElement()
                .isEqualTo(new Capture("nights", new Capture.Source.Json("$.reservations[0].nights")));
        assertThat(saved(study).agreement().ignoredJson()).containsExactly("$.depth");
        window.choose("try-who", "b");
        window.enter("call-path", "/berths/nowhere");
        awaitSaved(study, "/berths/nowhere");
        window.robot().push(KeyCode.CONTROL, KeyCode.ENTER);
        DrivenWindow.await("what was typed is asked, of one", () -> !window.isThere("tried-candidate")
                && window.robot().lookup("#tried-b").tryQueryAs(Labeled.class)
                        .filter(one -> one.getText().endsWith("✕")).isPresent());
        assertThat(window.text("why-wrong")).isEmpty();
        window.go("rehearsal");
        assertThat(study.resolve("rehearsal.json")).as("a try is no rehearsal").doesNotExist();
        window.press("rehearse");
        DrivenWindow.await("the rehearsal", () -> window.isThere("rehearsed-0-b"));
        window.go("workload");
        assertThat(window.text("why-wrong")).as("a red bead says why").startsWith("call: Candidate A: ")
                .contains("; Board B: ");
        assertThat(window.find("bead-call", Button.class).getStyleClass()).contains("bead-wrong");
    }

    /** Opens the menu of the exchange at a place of its text, and chooses from it. */
    private void pointAt(String words, String choice) throws Exception {
        WaitForAsyncUtils.asyncFx(() -> {
            TextArea text = window.robot().lookup("#exchange-text").queryAs(TextArea.class);
            text.positionCaret(text.getText().indexOf(words) + 1);
            Point2D middle = text.localToScreen(20, 20);
            Event.fireEvent(text, new ContextMenuEvent(ContextMenuEvent.CONTEXT_MENU_REQUESTED, 20, 20, middle.getX(),
                    middle.getY(), true, null));
        }).get();
        DrivenWindow.await(choice, () -> window.robot().lookup(choice).tryQuery().isPresent());
        window.robot().clickOn(choice);
    }

    /** What implementations always differ in is proposed with its reason, and accepted at one press; the rest stays. */
    @Test
    void usualDifferencesAreAcceptedAtOnePress() throws Exception {
        try (Answering pool = Answering.with(Map.of("Content-Type", "application/json", "ETag", "\"a1\""),
                "{\"quay\": \"Alder\"}");
                Answering loop = Answering.with(
                        Map.of("Content-Type", "application/json;charset=UTF-8", "ETag", "\"b2\""),
                        "{\"quay\": \"Birch\"}")) {
            Path study = small();
            String text = DrivenWindow.read(study.resolve("study.yaml"));
            Files.writeString(study.resolve("study.yaml"),
                    text.replace(address(one), pool.address()).replace(address(other), loop.address()));
            window.open(study);
            window.go("rehearsal");
            window.press("rehearse");
            DrivenWindow.await("the proposal", () -> window.isThere("accept-usual"));
            assertThat(window.find("accept-usual", Button.class).getText()).isEqualTo("Accept the 2 usual ones");
            assertThat(window.robot().lookup(TextField.class::isInstance).queryAllAs(TextField.class))
                    .as("reasons are there to be read and changed").extracting(TextField::getText)
                    .contains("a charset has no effect on JSON (RFC 8259, section 11)");
            window.press("accept-usual");
            awaitSaved(study, "RFC 9110");
            DrivenWindow.await("the rest", () -> !window.isThere("accept-usual"));
            assertThat(saved(study).agreement().accepted()).hasSize(2);
            assertThat(window.robot().lookup(Button.class::isInstance).queryAllAs(Button.class))
                    .extracting(Button::getText).as("what may matter stays").containsOnlyOnce("Accept");
        }
    }

    @Test
    void editsMadeOutsideTheWindowAreSeenAndBrokenOnesDoNotLoseTheStudy() throws Exception {
        Path study = small();
        Path file = study.resolve("study.yaml");
        window.open(study);
        window.go("candidates");
        String text = DrivenWindow.read(file);
        Files.writeString(file, text.replace("name: Board B", "name: Changed outside"));
        DrivenWindow.await("the change", () -> "Changed outside".equals(
                window.robot().lookup("#name-b").queryAs(TextField.class).getText()));
        Files.writeString(file, text.replace("measured: 1s", "measured: soon"));
        DrivenWindow.await("the warning", () -> window.isThere("file-problem"));
        assertThat(window.text("file-problem")).contains("line ").contains("load.measured is \"soon\"")
                .contains("last state that could be used");
        assertThat(window.find("name-b", TextField.class).getText()).isEqualTo("Changed outside");
        window.enter("name-b", "Edited here");
        DrivenWindow.await("that the edit is not saved",
                () -> window.says("file-problem", "was changed by another program"));
        assertThat(DrivenWindow.read(file)).as("nothing of the other program is lost").contains("measured: soon");
        assertThat(window.robot().lookup(".candidate-label").queryAllAs(Label.class))
                .as("the window goes back to what is saved").extracting(Label::getText)
                .contains("B  Changed outside").doesNotContain("B  Edited here");
        Files.writeString(file, text);
        DrivenWindow.await("the mended file", () -> !window.isThere("file-problem")
                && window.robot().lookup(".candidate-label").queryAllAs(Label.class).stream()
                        .anyMatch(label -> label.getText().equals("B  Board B")));
        assertThat(window.find("name-b", TextField.class).getText()).as("what was typed stays in its field")
                .isEqualTo("Edited here");
    }

    @Test
    void everyControlOfTheNewStationsHasAName() throws Exception {
        window.open(small());
        for (String station : List.of("question", "candidates", "workload", "rehearsal", "compare", "verdict")) {
            window.go(station);
            for (Node node : window.robot().lookup(one -> one instanceof TextField || one instanceof TextArea
                    || one instanceof ComboBox<?>).queryAll()) {
                boolean named = node.getAccessibleText() != null && !node.getAccessibleText().isBlank()
                        || node instanceof TextField field && field.getPromptText() != null
                                && !field.getPromptText().isBlank();
                assertThat(named).as(station + " " + node).isTrue();
            }
        }
    }
}
