package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

import javafx.scene.Parent;
import javafx.scene.Scene;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Labeled;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.stage.Stage;
import kadrem.core.check.StudyGrammar;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Protocols;
import kadrem.core.study.SignIn;
import kadrem.core.study.Wire;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Grammar;
import kadrem.desk.form.GroupForm;
import kadrem.desk.load.LoadStation;
import kadrem.desk.look.Look;
import kadrem.desk.candidates.CandidatesStation;
import kadrem.desk.workload.WorkloadStation;
import kadrem.files.study.Edit;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFieldTables;
import kadrem.files.study.StudyFile;
import kadrem.files.study.StudySchema;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/** Forms that are made from the grammar: filled in as a user would, and what they leave in the file. */
class FormsWindowTest {
    private static final String STUDY = """
            kadrem: 1
            name: Two boards
            question: {text: Which one, decide: [{metric: p95}]}
            candidates:
              - id: a
                # answers on the quay
                address: http://127.0.0.1:18081
                launch:
                  command: [./serve, --port, "{{port}}"]   # built by hand
                  x-note: ask Ada
                  environment: {MODE: fast}
              - id: b
                address: http://127.0.0.1:18082
            workload:
              visits:
                - name: look
                  calls:
                    - name: one   # the page
                      path: /berths/7
                      capture: {berth: {json: $.id}}
                    - {name: other, path: "/berths/{{berth}}"}
            load: {model: open, arrivalsPerSecond: 50, measured: 10s}
            plan: {rounds: 7}
            """;

    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();

    @BeforeEach
    void prepare() throws Exception {
        window.prepare();
    }

    @AfterEach
    void close() throws Exception {
        window.close();
    }

    private Path study() throws Exception {
        Files.writeString(folder.resolve(StudyFile.NAME), STUDY);
        return folder;
    }

    private String text() {
        return DrivenWindow.read(folder.resolve(StudyFile.NAME));
    }

    private MeasuredStudy saved() throws Exception {
        return StudyFile.read(folder).measured();
    }

    private Candidate first() throws Exception {
        return saved().candidates().getFirst();
    }

    @Test
    void groupsOfACandidateAreFilledInAsForms() throws Exception {
        window.open(study());
        window.go("candidates");
        window.press("edit-environment-a");
        assertThat(window.text("candidate-form-title")).isEqualTo("Launch of a");
        List<TextField> values = window.robot().lookup("#rows-form-launch-environment .text-field")
                .queryAllAs(TextField.class).stream().toList();
        WaitForAsyncUtils.asyncFx(() -> values.get(1).setText("north, south")).get();
        window.enter("form-launch-readyWithin", "90s");
        window.press("candidate-form-save");
        DrivenWindow.await("the environment", () -> text().contains("north, south"));
        assertThat(first().launch().orElseThrow().environment()).as("a comma is a part of the value")
                .isEqualTo(Map.of("MODE", "north, south"));
        assertThat(text()).as("comments and what Kadrem does not know stay").contains("# built by hand")
                .contains("# answers on the quay").contains("x-note: ask Ada").contains("readyWithin: 90s");
        DrivenWindow.await("the form to go", () -> !window.robot().lookup("#candidate-form").query().isVisible());

        assertThat(window.isThere("edit-sign-in-a")).as("essentials come first").isFalse();
        assertThat(window.find("group-reached", javafx.scene.control.Button.class).getAccessibleText())
                .isEqualTo("How it is reached, closed: as usual: protocol as the address says, sign-in none,"
                        + " tls certificate checked, wire http/1.1, kept connections");
        window.press("group-reached");
        window.press("edit-sign-in-a");
        window.choose("form-signIn-way", "basic");
        window.enter("form-signIn-basic-user", "harbour");
        window.enter("form-signIn-basic-password", "plain");
        window.press("candidate-form-save");
        DrivenWindow.await("why not", () -> window.says("candidates-rejected", "holds a secret itself"));
        window.enter("form-signIn-basic-password", "{{env:BOARD}}");
        window.press("candidate-form-save");
        DrivenWindow.await("the sign-in", () -> text().contains("{{env:BOARD}}"));
        assertThat(first().access().signIn()).isEqualTo(new SignIn.Basic("harbour", "{{env:BOARD}}"));

        window.press("edit-wire-a");
        window.choose("form-wire-protocol", "http/2");
        window.enter("form-wire-streams", "20");
        window.press("candidate-form-save");
        DrivenWindow.await("the wire", () -> text().contains("streams: 20"));
        assertThat(first().access().wire().protocol()).isEqualTo(Wire.Protocol.HTTP_2);

        window.press("group-state");
        window.press("edit-reset-a");
        window.choose("form-reset-way", "command");
        window.enter("form-reset-command", "./reset.sh\nnow");
        window.press("candidate-form-save");
        DrivenWindow.await("the reset", () -> text().contains("./reset.sh"));
        assertThat(first().reset().orElseThrow())
                .isEqualTo(new Candidate.ControlCommand(List.of("./reset.sh", "now")));
        assertThat(text()).as("nothing else was touched").startsWith(STUDY.substring(0, STUDY.indexOf("    launch:")));
    }

    @Test
    void copiesHaveAllThatTheirOriginalsHave() throws Exception {
        window.open(study());
        window.go("candidates");
        window.press("duplicate-a");
        DrivenWindow.await("the copy", () -> text().contains("id: a-2"));
        assertThat(saved().candidates().get(1).launch()).isEqualTo(first().launch());
        assertThat(text().split("# built by hand", -1)).as("comments inside it too").hasSize(3);
        window.go("workload");
        window.press("bead-one");
        Button duplicate = window.robot().lookup("Duplicate").queryAllAs(Button.class).stream()
                .filter(Button::isVisible).filter(one -> one.getScene() != null && !one.isDisabled()).findFirst()
                .orElseThrow();
        WaitForAsyncUtils.asyncFx(duplicate::fire).get();
        DrivenWindow.await("the copied call", () -> text().contains("name: one-2"));
        assertThat(saved().workload().visits().getFirst().calls().get(1).captures()).as("captures are copied")
                .isEqualTo(saved().workload().calls().getFirst().captures()).hasSize(1);
    }

    @Test
    void aValueListThatIsChangedKeepsWhatStandsBesideIt() throws Exception {
        Files.writeString(folder.resolve(StudyFile.NAME), STUDY.replace("workload:\n", """
                workload:
                  values:
                    # all berths of the harbour
                    - name: quay
                      from: 1
                      to: 40   # there are forty
                      x-note: ask Ada
                """));
        window.open(folder);
        window.go("workload");
        window.press("change-list-quay");
        window.enter("list-to", "50");
        window.press("list-form-save");
        DrivenWindow.await("the list", () -> text().matches("(?s).*to: .?50.*"));
        assertThat(text()).contains("# all berths").contains("# there are forty").contains("x-note: ask Ada")
                .as("what is seen without it is not said").doesNotContain("kind:");
        DrivenWindow.await("the form to go", () -> !window.robot().lookup("#list-form").query().isVisible());
        window.press("change-list-quay");
        ComboBox<?> kind = window.find("list-kind", ComboBox.class);
        WaitForAsyncUtils.asyncFx(kind::requestFocus).get();
        window.choose("list-kind", "uuid");
        assertThat(window.isThere("list-to")).as("an identifier has no most").isFalse();
        assertThat(kind.isFocused()).as("the keyboard stays where it was").isTrue();
        window.choose("list-kind", "zipf");
        assertThat(window.find("list-to", TextField.class).getText()).as("what was there stays").isEqualTo("50");
        window.choose("list-kind", "uuid");
        window.press("list-form-save");
        DrivenWindow.await("identifiers", () -> text().contains("kind: uuid"));
        assertThat(text()).contains("# all berths").contains("x-note: ask Ada").doesNotContain("to: 50");
    }

    /** A button takes an underscore for a key, unless it is told that it shows what somebody has written. */
    @Test
    void whatTheStudySaysIsShownWithItsUnderscores() throws Exception {
        Files.writeString(folder.resolve(StudyFile.NAME), STUDY.replace("name: one ", "name: one_berth ")
                .replace("name: look", "name: look_up").replace("./serve", "./serve_board")
                .replace("MODE: fast", "SOME_MODE: fast"));
        window.open(folder);
        for (String station : List.of("question", "candidates", "workload", "load", "rehearsal", "measure", "examine",
                "compare", "verdict")) {
            window.go(station);
            WaitForAsyncUtils.waitForFxEvents();
            List<String> eaten = WaitForAsyncUtils.asyncFx(() -> window.robot().lookup(Labeled.class::isInstance)
                    .queryAllAs(Labeled.class).stream()
                    .filter(one -> one.getText() != null && one.getText().contains("_") && one.isMnemonicParsing())
                    .map(Labeled::getText).toList()).get();
            assertThat(eaten).as(station).isEmpty();
        }
    }

    /** One line of the grammar, and nothing else. */
    @Test
    void aFieldOfTheGrammarIsEverywhere() throws Exception {
        Grammar grammar = StudyGrammar.measured(Protocols.all())
                .with("plan", Field.whole("siestas", "pauses in the afternoon", 0, 3, "2").usually("1"))
                .with("candidates", Field.line("mooring", "where it lies", "quay 7"));
        Files.writeString(folder.resolve(StudyFile.NAME), STUDY.replace("{rounds: 7}", "{rounds: 7, siestas: 7}"));
        org.assertj.core.api.Assertions.assertThatThrownBy(() -> StudyFile.read(folder, grammar))
                .isInstanceOf(StudyException.class)
                .hasMessageContaining("line 23: plan.siestas is 7. Use a number from 0 to 3.");
        Files.writeString(folder.resolve(StudyFile.NAME), STUDY.replace("{rounds: 7}", "{rounds: 7, siestas: 2}")
                .replace("- id: a\n", "- id: a\n    mooring: quay 9\n"));
        StudyFile file = StudyFile.read(folder, grammar);
        assertThat(file.warnings()).as("it is known").noneMatch(one -> one.toString().contains("siestas")
                || one.toString().contains("mooring"));
        assertThat(StudySchema.of(grammar, StudyGrammar.ofFigures())).contains("\"siestas\"")
                .contains("pauses in the afternoon");
        assertThat(StudyFieldTables.of(grammar, StudyGrammar.ofFigures()))
                .contains("| `siestas` | a whole number from 0 to 3 | `1` | pauses in the afternoon, such as `2` |");
        Object copied = file.with(List.of(new Edit.Copy("candidates", 0, 1, Map.of("id",
                java.util.Optional.of("c"))))).written("candidates[1].mooring").orElseThrow();
        assertThat(copied).isEqualTo("quay 9");
        window.openEmpty();
        GroupForm form = WaitForAsyncUtils.asyncFx(() -> new GroupForm(grammar.group("plan"),
                Map.of("rounds", "7", "siestas", "2"), "form")).get();
        Parent view = (Parent) form.view();
        TextField siestas = (TextField) view.lookup("#form-siestas");
        assertThat(siestas.getText()).isEqualTo("2");
        WaitForAsyncUtils.asyncFx(() -> siestas.setText("3")).get();
        assertThat(form.value().orElseThrow()).isEqualTo(Map.of("rounds", "7", "siestas", "3"));
        assertThat(view.lookup("#form-order")).isInstanceOf(ComboBox.class);
    }

    /** The stations too: the fields of load, plan, workload, visits and calls are those of the grammar. */
    @Test
    void stationsHaveTheFieldsOfTheGrammar() throws Exception {
        Grammar grammar = StudyGrammar.measured(Protocols.all())
                .with("plan", Field.whole("siestas", "pauses in the afternoon", 0, 3, "2").usually("1"))
                .with("load", Field.line("swell", "height of waves", "2 m").when("model", "open"))
                .with("load", Field.line("oars", "of each boat", "8").when("model", "closed"))
                .with("workload", Field.line("harbour", "of all visits", "Saltby"))
                .with("workload.defaults", Field.line("flag", "of all calls", "red"))
                .with("workload.visits", Field.choice("tide", "at which they come", "high", "low"))
                .with("workload.visits.calls", Field.line("pilot", "who goes with it", "Ada"));
        Files.writeString(folder.resolve(StudyFile.NAME), STUDY.replace("name: look\n", "name: look\n      tide: low\n")
                .replace("path: /berths/7", "path: /berths/7\n          pilot: Ada")
                .replace("rounds: 7", "rounds: 7, siestas: 2")
                .replace("measured: 10s", "measured: 10s, swell: 3 m"));
        var session = WaitForAsyncUtils.asyncFx(() -> new Session(grammar)).get();
        WaitForAsyncUtils.asyncFx(() -> show(session)).get();
        DrivenWindow.await("the call's field", () -> window.isThere("call-pilot"));
        assertThat(window.find("call-pilot", TextField.class).getText()).isEqualTo("Ada");
        assertThat(window.find("load-swell", TextField.class).getText()).isEqualTo("3 m");
        assertThat(window.isThere("load-oars")).as("means nothing where arrivals come by themselves").isFalse();
        window.enter("call-pilot", "Bea");
        DrivenWindow.await("the pilot", () -> text().contains("pilot: Bea"));
        window.enter("plan-siestas", "9");
        DrivenWindow.await("the refusal", () -> window.says("rejected", "plan.siestas is 9. Use a number from 0 to 3"));
        window.enter("plan-siestas", "3");
        DrivenWindow.await("the plan", () -> text().contains("siestas: 3"));
        window.press("visit-0");
        DrivenWindow.await("the visit's field", () -> window.isThere("visit-tide"));
        assertThat(window.find("visit-tide", ComboBox.class).getValue()).isEqualTo("low");
        window.press("all-calls");
        DrivenWindow.await("the field of all calls", () -> window.isThere("all-flag"));
        window.enter("all-flag", "green");
        DrivenWindow.await("the flag", () -> text().contains("flag: green"));
        window.enter("workload-harbour", "Saltby");
        DrivenWindow.await("the harbour", () -> text().contains("harbour: Saltby"));
        WaitForAsyncUtils.asyncFx(session::close).get();
    }

    /** The stations with a grammar of one's own, side by side in a window. */
    private Void show(Session session) {
        var look = new Look();
        var stations = List.of(new WorkloadStation(session, new CandidatesStation(session)),
                new LoadStation(session, look));
        session.stateProperty().addListener((_, _, state) -> state
                .ifPresent(now -> stations.forEach(one -> one.show(now))));
        var stage = new Stage();
        stage.setScene(new Scene(new HBox(stations.getFirst().view(), stations.getLast().view()), 1380, 880));
        look.dress(stage.getScene());
        stage.show();
        session.open(folder);
        return null;
    }
}
