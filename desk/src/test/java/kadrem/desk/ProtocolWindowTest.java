package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;

import javafx.scene.control.ComboBox;
import javafx.scene.control.Labeled;
import javafx.scene.control.TextInputControl;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.standins.berths.GrpcService;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/** A study whose candidates are asked the same thing in two languages, and one of databases, in the real window. */
class ProtocolWindowTest {
    @TempDir
    Path folder;
    private final DrivenWindow window = new DrivenWindow();

    @BeforeEach
    void prepare() throws Exception {
        assumeTrue(DrivenWindow.hasDisplay(), "there is no display");
        window.prepare();
    }

    @AfterEach
    void close() throws Exception {
        window.close();
    }

    private Path copy(String study) throws Exception {
        Path shipped = Path.of("../demo").resolve(study);
        Path copy = folder.resolve(study);
        try (var files = Files.walk(shipped)) {
            for (Path file : files.filter(one -> !one.startsWith(shipped.resolve("runs"))).toList()) {
                Path to = copy.resolve(shipped.relativize(file).toString());
                if (Files.isDirectory(file)) {
                    Files.createDirectories(to);
                } else {
                    Files.copy(file, to);
                }
            }
        }
        return copy;
    }

    private String text(String id) throws Exception {
        return window.find(id, TextInputControl.class).getText();
    }

    private void awaitFile(Path study, String text) throws Exception {
        DrivenWindow.await(text + " in the file", () -> {
            try {
                return Files.readString(study.resolve("study.yaml")).contains(text);
            } catch (java.io.IOException cause) {
                throw new java.io.UncheckedIOException(cause);
            }
        });
    }

    @Test
    void aCallIsEditedInTheFormOfItsProtocolAndTheServerOffersItsMethods() throws Exception {
        try (GrpcService service = GrpcService.on(0)) {
            Path study = copy("rest-or-grpc");
            Path file = study.resolve("study.yaml");
            String text = Files.readString(file).replace("grpc://127.0.0.1:18092", "grpc://127.0.0.1:" + service.port())
                    .replaceFirst("(?s)(grpc://127.0.0.1:\\d+\\n) +launch:\\n.*?processors: \"1\"\\n", "$1");
            Files.writeString(file, text);
            window.open(study);
            window.go("workload");
            window.press("asked-in-grpc");
            assertThat(text("form-grpc-method")).isEqualTo("harbour.BerthBoard/FreeBerths");
            assertThat(text("form-grpc-message")).isEqualTo("{\"day\": \"{{day}}\"}");
            assertThat(window.robot().lookup("#call-path").queryAs(TextInputControl.class).isVisible())
                    .as("what is of HTTP is not shown").isFalse();
            window.enter("form-grpc-deadline", "300ms");
            awaitFile(study, "deadline: 300ms");
            window.enter("form-grpc-codes", "FINE");
            DrivenWindow.await("the reason", () -> window.robot().lookup((Labeled label) -> label.getText() != null
                    && label.getText().contains("expects the status code \"FINE\"")).tryQuery().isPresent());
            assertThat(Files.readString(file)).doesNotContain("FINE");
            ComboBox<?> offers = window.robot().lookup("#form-grpc-method-offers").queryAs(ComboBox.class);
            long[] asked = {0};
            DrivenWindow.await("what the server offers", () -> {
                // asked anew each time it is opened: on a busy machine no answer may come in time at first
                if (System.nanoTime() - asked[0] > 5_000_000_000L) {
                    asked[0] = System.nanoTime();
                    offers.hide();
                    offers.show();
                }
                return offers.getItems().stream().anyMatch("harbour.BerthBoard/GetTides"::equals);
            });
            WaitForAsyncUtils.asyncFx(
                    () -> window.robot().lookup("#form-grpc-method-offers").queryAs(ComboBox.class).hide()).get();
            choose("harbour.BerthBoard/GetBerth");
            awaitFile(study, "method: harbour.BerthBoard/GetBerth");
            assertThat(text("form-grpc-message")).as("what the user wrote stays").isEqualTo("{\"day\": \"{{day}}\"}");
            DrivenWindow.await("it is told", () -> window.robot().lookup((Labeled label) -> label.getText() != null
                    && label.getText().startsWith("Your message stays as written")).tryQuery().isPresent());
            int messages = DrivenWindow.read(file).split("message:", -1).length;
            window.enter("form-grpc-message", "");
            // a text of several lines is saved when it is left
            WaitForAsyncUtils.asyncFx(() -> window.robot().lookup("#form-grpc-deadline").query().requestFocus()).get();
            DrivenWindow.await("a message less", () -> DrivenWindow.read(file).split("message:", -1).length < messages);
            choose("harbour.BerthBoard/FreeBerths");
            DrivenWindow.await("its message to begin with", () -> holds("form-grpc-message", "\"day\": \"\""));
            choose("harbour.BerthBoard/GetBerth");
            DrivenWindow.await("another message in its place",
                    () -> holds("form-grpc-message", "\"id\": 0"));
            window.press("asked-in-http");
            assertThat(text("call-path")).isEqualTo("/berths?day={{day}}");
        }
    }

    /** To be asked on the interface thread. */
    private boolean holds(String id, String words) {
        return window.robot().lookup("#" + id).queryAs(TextInputControl.class).getText().contains(words);
    }

    private void choose(String method) throws Exception {
        WaitForAsyncUtils.asyncFx(() -> window.robot().lookup("#form-grpc-method-offers").<ComboBox<String>>query()
                .getSelectionModel().select(method)).get();
    }

    @Test
    void statementsAndCommandsAreEditedSideBySide() throws Exception {
        Path study = copy("sql-or-store");
        window.open(study);
        window.go("workload");
        window.press("asked-in-sql");
        assertThat(text("form-sql-statement")).startsWith("select id, quay");
        window.enter("form-sql-rows", "0-1");
        awaitFile(study, "rows: 0-1");
        window.press("asked-in-resp");
        assertThat(text("form-resp-commands")).isEqualTo("HGETALL berth:{{berth}}");
        assertThat(window.find("form-resp-values", ComboBox.class).getValue()).isEqualTo("pairs");
        WaitForAsyncUtils.asyncFx(() -> window.robot().lookup("#form-resp-values").queryAs(ComboBox.class)
                .getSelectionModel().select(0)).get();
        DrivenWindow.await("the usual word to be left out", () -> {
            try {
                return !Files.readString(study.resolve("study.yaml")).contains("values: pairs");
            } catch (java.io.IOException cause) {
                throw new java.io.UncheckedIOException(cause);
            }
        });
    }

    @Test
    void whatIsExpectedOfOneLanguageIsEditedThereAlone() throws Exception {
        Path study = copy("sql-or-store");
        window.open(study);
        window.go("workload");
        window.press("asked-in-sql");
        assertThat(text("answer-at")).as("the first row is compared").isEqualTo("$[0]");
        assertThat(window.isThere("use-those-of-the-call")).isTrue();
        window.enter("call-within", "250ms");
        awaitFile(study, "within: 250ms");
        Call call = StudyFile.read(study).measured().workload().calls().getFirst();
        assertThat(call.in("sql").expected().within()).contains(Duration.ofMillis(250));
        assertThat(call.in("resp").expected().within()).isEmpty();
        window.press("asked-in-resp");
        assertThat(text("call-within")).isEmpty();
        window.press("asked-in-sql");
        assertThat(text("call-within")).isEqualTo("250ms");
        window.press("use-those-of-the-call");
        DrivenWindow.await("what the call says to hold", () -> {
            try {
                Form form = StudyFile.read(study).measured().workload().calls().getFirst().form("sql").orElseThrow();
                return form.expected().isEmpty() && form.answer().isEmpty();
            } catch (StudyException cause) {
                throw new IllegalStateException(cause);
            }
        });
        assertThat(text("answer-at")).isEmpty();
    }

    /** The handshake of a WebSocket and the request for events have headers, as a request has. */
    @Test
    void headersAreEditedInEachProtocolThatSendsThem() throws Exception {
        Path study = copy("sql-or-store");
        Path file = study.resolve("study.yaml");
        Files.writeString(file, """
                kadrem: 1
                name: live
                question:
                  text: Which of the two?
                  baseline: a
                  decide:
                    - metric: p95
                      margin: 10%
                candidates:
                  - {id: a, name: A, address: "ws://127.0.0.1:18101/live"}
                  - {id: b, name: B, address: "http://127.0.0.1:18102", protocol: events}
                workload:
                  visits:
                    - name: look
                      calls:
                        - name: one-berth
                          websocket: {send: '{"berth": 7}'}
                          events: {path: /tides/live, events: 1}
                load:
                  model: open
                  arrivalsPerSecond: 10
                  measured: 1s
                """);
        window.open(study);
        window.go("workload");
        for (String protocol : List.of("websocket", "events")) {
            window.press("asked-in-" + protocol);
            window.press("add-headers");
            WaitForAsyncUtils.asyncFx(() -> {
                List<TextInputControl> cells = List.copyOf(
                        window.robot().lookup("#rows-headers .text-field").<TextInputControl>queryAll());
                cells.get(cells.size() - 2).setText("X-" + protocol);
                cells.getLast().requestFocus();
                cells.getLast().setText("{{env:BERTH_TOKEN}}");
                window.robot().lookup("#asked-in-" + protocol).query().requestFocus();
            }).get();
            awaitFile(study, "X-" + protocol);
        }
        assertThat(StudyFile.read(study).measured().workload().calls().getFirst().headers()).containsExactly(
                new Call.Header("X-websocket", "{{env:BERTH_TOKEN}}"),
                new Call.Header("X-events", "{{env:BERTH_TOKEN}}"));
    }

    @Test
    void aShippedStudyIsOpenedFromTheFirstScreenAsACopy() throws Exception {
        String home = System.getProperty("kadrem.home");
        System.setProperty("kadrem.home", Path.of("..").toAbsolutePath().normalize().toString());
        try {
            window.openEmpty();
            window.press("shipped-sql-or-store");
            DrivenWindow.await("the study", () -> window.says("evidence-sentence", "Nothing measured yet")
                    || window.isThere("evidence-sentence"));
            assertThat(Path.of(System.getenv("XDG_DATA_HOME"), "kadrem", "demo", "sql-or-store", "study.yaml"))
                    .exists();
        } finally {
            if (home == null) {
                System.clearProperty("kadrem.home");
            } else {
                System.setProperty("kadrem.home", home);
            }
        }
    }
}
