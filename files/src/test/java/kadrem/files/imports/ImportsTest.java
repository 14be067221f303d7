package kadrem.files.imports;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowable;

import java.io.IOException;
import java.io.Writer;
import java.net.URISyntaxException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;

import kadrem.core.study.Call;
import kadrem.core.study.Wire;
import kadrem.core.study.SignIn;
import kadrem.core.study.Capture;
import kadrem.core.study.Candidate;
import kadrem.core.study.Body;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Workload;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class ImportsTest {
    private static final String BOARD = "127.0.0.1:18082";
    @TempDir
    private Path folder;

    /** A capture that Chromium 156 wrote, through its own devtools, of calls to a stand-in. */
    private static Path capture() {
        try {
            return Path.of(ImportsTest.class.getResource("board.har").toURI());
        } catch (URISyntaxException impossible) {
            throw new AssertionError(impossible);
        }
    }

    private Workload into(Imported imported) throws IOException, StudyException {
        NewStudy.create(folder.resolve("s"), "s");
        StudyFile study = StudyFile.read(folder.resolve("s"));
        StudyFile changed = study.with(imported.edits(study.measured()));
        changed.save();
        return StudyFile.read(folder.resolve("s")).measured().workload();
    }

    @Test
    void aBrowsersCaptureBecomesAVisit() throws Exception {
        HarImport.Survey survey = HarImport.survey(capture(), _ -> {
        });
        assertThat(survey.entries()).isEqualTo(9);
        assertThat(survey.busiest()).hasValue(BOARD);
        Imported imported = HarImport.read(capture(), Set.of(BOARD), false, _ -> {
        });
        assertThat(imported.summary())
                .isEqualTo("4 calls kept; left out: 1 static files, 1 third parties, 1 equal calls,"
                        + " 2 alike but for an id, for which a value list stands");
        assertThat(imported.written()).hasSize(4).contains("GET /berths/{{berths}}");
        assertThat(imported.notes()).isNotEmpty()
                .allMatch(note -> note.contains("the header Authorization in GET /berths/")
                        && note.contains("KADREM_AUTHORIZATION") && !note.contains("made-up"));

        Workload workload = into(imported);
        assertThat(workload.visits()).as("the call that a new study begins with goes").hasSize(1);
        List<Call> calls = workload.visits().getLast().calls();
        assertThat(calls).extracting(call -> call.method() + " " + call.path()).containsExactly(
                "GET /berths?day=2026-07-14", "GET /berths/{{berths}}", "POST /reservations",
                "GET /tides/north-mole?day=2026-07-14");
        assertThat(workload.values()).singleElement().satisfies(list -> {
            assertThat(list.name()).isEqualTo("berths");
            assertThat(list.size()).isEqualTo(3);
            assertThat(list.text(2)).isEqualTo("31");
        });
        assertThat(calls.get(2).body().templates().getFirst()).contains("\"berth\":7");
        assertThat(calls.get(2).headers()).extracting(Call.Header::name).contains("Content-Type")
                .doesNotContain("User-Agent", "Authorization");
        assertThat(calls.get(1).headers()).contains(new Call.Header("Authorization", "{{env:KADREM_AUTHORIZATION}}"));
        assertThat(StudyFile.read(folder.resolve("s")).study().candidates()).singleElement()
                .satisfies(one -> assertThat(one.address()).hasToString("http://" + BOARD));
        // the page waited 700 ms after its first answer
        ThinkTime pause = calls.getFirst().thinkTime().orElseThrow();
        assertThat(pause.mean()).isBetween(Duration.ofMillis(650), Duration.ofMillis(1500));
    }

    /** HTTP Archive 1.2: startedDateTime is when a call began, time its length in milliseconds; between them is the pause. */
    @Test
    void pausesAreFromTheEndOfACallToTheBeginningOfTheNext() throws Exception {
        Path file = folder.resolve("two.har");
        Files.writeString(file, """
                {"log": {"version": "1.2", "entries": [
                 {"startedDateTime": "2026-07-01T10:00:00.000+02:00", "time": 250,
                  "request": {"method": "GET", "url": "http://h/a", "headers": []}, "response": {"content": {}}},
                 {"startedDateTime": "2026-07-01T08:00:01.500Z", "time": 10,
                  "request": {"method": "POST", "url": "http://h/b", "headers": [],
                   "postData": {"params": [{"name": "n", "value": "a b&c"}]}}, "response": {"content": {}}}]}}""");
        Imported imported = HarImport.read(file, Set.of("h"), false, _ -> {
        });
        assertThat(imported.kept().getFirst().pause()).hasValue(Duration.ofMillis(1250));
        assertThat(imported.kept().get(1).body()).isEqualTo("n=a+b%26c");
    }

    /** A large file is read an entry at a time, and says how far it is. */
    @Test
    void aLargeCaptureIsReadToItsEnd() throws Exception {
        Path file = folder.resolve("large.har");
        String padding = "x".repeat(20_000);
        try (Writer out = Files.newBufferedWriter(file)) {
            out.write("{\"log\":{\"entries\":[");
            for (int i = 0; i < 1000; i++) {
                out.write((i == 0 ? "" : ",") + "{\"request\":{\"method\":\"GET\",\"url\":\"http://h/berths/" + i % 50
                        + "\",\"headers\":[]},\"response\":{\"content\":{\"mimeType\":\"application/json\",\"text\":\""
                        + padding + "\"}}}");
            }
            out.write("]}}");
        }
        var progress = new ArrayList<Double>();
        Imported imported = HarImport.read(file, Set.of("h"), false, progress::add);
        assertThat(imported.kept()).hasSize(50);
        assertThat(imported.dropped()).containsEntry("equal calls", 950L);
        assertThat(progress).isSorted().hasSizeGreaterThan(900);
        assertThat(progress.getLast()).isEqualTo(1);
        assertThat(into(imported).visits().getLast().calls()).as("only the id varies").hasSize(1);
    }

    @Test
    void whatIsNoCaptureIsTold() throws IOException {
        Path file = folder.resolve("x.har");
        Files.writeString(file, "{\"log\": {\n\"entries\": [ {]");
        assertThatThrownBy(() -> HarImport.survey(file, _ -> {
        })).isInstanceOf(ImportException.class).hasMessageContaining("line 2").hasMessageContaining("not valid JSON");
        Files.writeString(file, "{\"log\": {}}");
        assertThatThrownBy(() -> HarImport.survey(file, _ -> {
        })).hasMessageContaining("no list log.entries");
        Files.writeString(file, "[1]");
        assertThatThrownBy(() -> HarImport.survey(file, _ -> {
        })).hasMessageContaining("not an HTTP Archive");
        assertThatThrownBy(() -> HarImport.read(capture(), Set.of("nowhere"), false, _ -> {
        })).hasMessageContaining("holds no call to nowhere");
    }

    @Test
    void aPastedCommandIsReadAsAShellWould() throws Exception {
        FoundCall call = CommandImport.read("""
                curl 'http://127.0.0.1:8080/reservations?x=1' -XPOST \\
                  -H 'Accept: application/json' -H "X-Quay: Al\\"der" --compressed -sS \\
                  --data-raw $'{"vessel":"O\\'Tern\\u0021"}'""").kept().getFirst();
        assertThat(call.method()).isEqualTo("POST");
        assertThat(call.host()).isEqualTo("127.0.0.1:8080");
        assertThat(call.target()).isEqualTo("/reservations?x=1");
        assertThat(call.body()).isEqualTo("{\"vessel\":\"O'Tern!\"}");
        assertThat(call.headers()).contains(new Call.Header("X-Quay", "Al\"der"),
                new Call.Header("Content-Type", "application/x-www-form-urlencoded"));
        assertThat(CommandImport.read("curl -G http://h/b -d a=1 --data-urlencode 'q=a b'").kept().getFirst().target())
                .isEqualTo("/b?a=1&q=a+b");
        assertThat(CommandImport.read("curl --request=DELETE h:1/b/7").kept().getFirst())
                .satisfies(delete -> assertThat(delete.method() + " " + delete.host() + delete.target())
                        .isEqualTo("DELETE h:1/b/7"));
        Imported signedIn = CommandImport.read("curl -u me:ebb-tide -b s=1 http://h/");
        assertThat(signedIn.notes()).hasSize(2).noneMatch(note -> note.contains("ebb-tide"));
        assertThat(signedIn.kept().getFirst().headers()).containsExactly(
                new Call.Header("Cookie", "{{env:KADREM_COOKIE}}"));
        assertThat(signedIn.candidate()).containsEntry("signIn",
                Map.of("basic", Map.of("user", "me", "password", "{{env:KADREM_PASSWORD}}")));
    }

    @Test
    void commandsThatCannotBeReadAreTold() {
        assertThatThrownBy(() -> CommandImport.read("rm -rf /")).hasMessageContaining("Line 1 is no curl command");
        assertThatThrownBy(() -> CommandImport.read("curl 'http://h/")).hasMessageContaining("quote is not closed");
        assertThatThrownBy(() -> CommandImport.read("curl http://h/ -H")).hasMessageContaining("has no value");
        assertThatThrownBy(() -> CommandImport.read("curl http://h/ -d @file")).hasMessageContaining("values folder");
        assertThatThrownBy(() -> CommandImport.read("curl -s")).hasMessageContaining("no address");
    }

    /** What a study cannot say is refused by its name, with the way to mend it; nothing is passed over in silence. */
    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"-x http://p:3128 http://h/|--proxy|proxy's address",
            "--socks5 p http://h/|--socks5|proxy's address", "-F 'a=@photo.png' http://h/|photo.png|values folder",
            "--data-urlencode 'a@text.txt' http://h/|text.txt|values folder",
            "-T x http://h/|--upload-file|values folder",
            "-sSLx p http://h/|--proxy|proxy's address", "--frobnicate http://h/|--frobnicate|take it out",
            "--cacert ca.pem https://h/|--cacert|under tls", "-0 http://h/|--http1.0|HTTP/1.1",
            "--ntlm -u a:b http://h/|--ntlm|-u", "--resolve h:80:1.2.3.4 http://h/|--resolve|elsewhere",
            "'http://h/{a,b}'|{a,b}|Write each", "-H @file http://h/|the file file|values folder",
            "-H nonsense http://h/|nonsense|no header", "-b cookies.txt http://h/|cookies.txt|values folder",
            "-H \"X: $TOKEN\" http://h/|$TOKEN|Write the value", "http://h/$(date)|$(date)|Write the value",
            "ftp://h/|ftp://h/|no address of HTTP", "-F 'a=1;filename=x' http://h/|a=1|text/plain"})
    void whatCannotBeTakenOverIsRefusedByName(String options, String named, String mend) {
        assertThatThrownBy(() -> CommandImport.read("curl " + options)).isInstanceOf(ImportException.class)
                .hasMessageContaining(named).hasMessageContaining(mend);
    }

    /** A file of commands, as one keeps it beside a service. */
    @Test
    void severalCommandsAreReadFromOneText() throws Exception {
        String text = """
                # what the quay asks
                $ curl -s http://127.0.0.1:18081/berths/7 | jq '.id' > out.json
                curl 'http://127.0.0.1:18081/tides' http://127.0.0.1:18081/tides/2 2>/dev/null && curl -kL --compressed \
                  -m 2.5 http://127.0.0.1:18081/slow; /usr/bin/curl -d a=1 -d 'b=<x>' -G http://127.0.0.1:18081/find?c=2&d=3
                curl --next http://127.0.0.1:18081/one --next -X DELETE http://127.0.0.1:18081/two
                """
                .replace("curl --next http", "curl http");
        assertThat(Importing.guess(text)).isEqualTo(Importing.Kind.COMMAND);
        Imported imported = CommandImport.read(text);
        assertThat(imported.written()).containsExactly("GET /berths/7", "GET /tides", "GET /tides/2", "GET /slow",
                "GET /find?c=2&d=3&a=1&b=<x>", "GET /one", "DELETE /two");
        assertThat(imported.notes()).singleElement().asString().contains("jq");
        assertThat(imported.candidate()).isEqualTo(Map.of("tls", Map.of("verify", "false"), "wire",
                Map.of("redirects", "50", "accept", List.of("gzip", "deflate", "br", "zstd"))));
        assertThat(imported.kept().get(3).timeout()).hasValue(Duration.ofMillis(2500));
        assertThatThrownBy(() -> CommandImport.read("curl http://h/\n\nwget http://h/"))
                .hasMessageContaining("Line 3 is no curl command: it begins with \"wget\"");
    }

    @Test
    void whatTheCommandSaysOfItsCandidateIsWritten() throws Exception {
        Workload workload = into(CommandImport.read("curl -k --http2 -u ada:x https://127.0.0.1:18443/a"
                + " -F 'note={\"a\": 1};type=application/json' -F who=Ada"));
        assertThat(workload.visits()).singleElement().satisfies(visit -> assertThat(visit.calls()).hasSize(1));
        assertThat(workload.calls().getFirst().body()).isEqualTo(new Body.Multipart(List.of(
                new Body.Part("note", new Body.Text(Body.Kind.JSON, "{\"a\": 1}")),
                new Body.Part("who", new Body.Text(Body.Kind.TEXT, "Ada")))));
        Candidate candidate = StudyFile.read(folder.resolve("s")).study().candidates().getFirst();
        assertThat(candidate.address()).hasToString("https://127.0.0.1:18443");
        assertThat(candidate.access().tls().verify()).isFalse();
        assertThat(candidate.access().wire().protocol()).isEqualTo(Wire.Protocol.HTTP_2);
        assertThat(candidate.access().signIn()).isEqualTo(new SignIn.Basic("ada", "{{env:KADREM_PASSWORD}}"));
    }

    /** What the study says already is not written over by a command that says otherwise. */
    @Test
    void whatTheStudySaysOfItsCandidateStays() throws Exception {
        NewStudy.create(folder.resolve("s"), "s");
        Path file = folder.resolve("s/study.yaml");
        Files.writeString(file, Files.readString(file).replace("address: http://127.0.0.1:8080",
                "address: http://127.0.0.1:18081\n    wire: {streams: 1, cookies: true}   # it signs in"));
        StudyFile study = StudyFile.read(folder.resolve("s"));
        Imported imported = CommandImport.read("curl -L --http2 -u ada:x http://127.0.0.1:18081/a");
        String text = study.with(imported.edits(study.measured())).text();
        assertThat(text).contains("wire: {streams: 1, cookies: true}   # it signs in").contains("signIn:")
                .doesNotContain("http/2");
    }

    @ParameterizedTest
    @ValueSource(strings = {"curl \0", "\0", "$", "$ ", "curl", "curl -", "curl --", "curl -X", "curl '",
            "curl $'\\u12", ">", "| |",
            "curl http://h -F =", "curl http://h -F 'password: abcdefgh=x'", "curl http://h --json",
            "curl -m 1e300 http://h", "curl http://[::1", "curl http://h%"})
    void oddCommandsAreToldAndBreakNothing(String text) {
        Throwable told = catchThrowable(
                () -> CommandImport.read(text).edits(new Workload(List.of(), List.of())));
        assertThat(told).satisfiesAnyOf(none -> assertThat(none).isNull(),
                why -> assertThat(why).isInstanceOf(ImportException.class).hasMessageNotContaining("Exception"));
    }

    private static String entry(String method, String path, String headers, String sent, String answerHeaders,
            String answer) {
        return """
                {"startedDateTime": "2026-07-01T08:00:00Z", "time": 5, "request": {"method": "%s",
                 "url": "http://127.0.0.1:18081%s", "headers": [%s], "postData": {"text": "%s"}},
                 "response": {"status": 200, "headers": [%s], "content": {"mimeType": "application/json", "text": "%s"}}}"""
                .formatted(method, path, headers, sent.replace("\"", "\\\""), answerHeaders,
                        answer.replace("\"", "\\\""));
    }

    private static String header(String name, String value) {
        return "{\"name\": \"" + name + "\", \"value\": \"" + value + "\"}";
    }

    private Imported captured(String... entries) throws Exception {
        Path file = folder.resolve("log-in.har");
        Files.writeString(file, "{\"log\": {\"entries\": [" + String.join(", ", entries) + "]}}");
        return HarImport.read(file, Set.of("127.0.0.1:18081"), false, _ -> {
        });
    }

    /** A text of one answer that later requests carry is captured in the first part; a password never gets into the study. */
    @Test
    void aLogInIsRecognised() throws Exception {
        Imported imported = captured(
                entry("POST", "/login", header("Content-Type", "application/json"),
                        "{\"user\": \"ada\", \"password\": \"spring-tide\"}", "",
                        "{\"session\": {\"access\": \"abcdefgh.ijkl\"}, \"csrf\": \"c5rf-0123456789\", \"quay\": \"application/json\"}"),
                entry("GET", "/berths/7",
                        header("Authorization", "Bearer abcdefgh.ijkl") + ", " + header("Accept", "application/json"),
                        "", "", "{}"),
                entry("POST", "/reservations", header("X-CSRF-Token", "c5rf-0123456789"),
                        "{\"berth\": 7, \"token\": \"abcdefgh.ijkl\"}", "", "{}"));
        assertThat(imported.notes()).anyMatch(note -> note.contains("$.session.access") && note.contains("POST /login")
                && note.contains("GET /berths/7, header Authorization") && note.contains("{{access}}"));
        Workload workload = into(imported);
        assertThat(workload.first()).singleElement().satisfies(call -> {
            assertThat(call.captures()).extracting(Capture::name).containsExactly("access", "csrf");
            assertThat(call.body().templates().getFirst()).contains("{{env:KADREM_PASSWORD}}")
                    .doesNotContain("spring-tide");
        });
        List<Call> calls = workload.visits().getFirst().calls();
        assertThat(calls.getFirst().headers()).contains(new Call.Header("Authorization", "Bearer {{access}}"),
                new Call.Header("Accept", "application/json"));
        assertThat(calls.get(1).headers()).contains(new Call.Header("X-CSRF-Token", "{{csrf}}"));
        assertThat(calls.get(1).body().templates().getFirst()).contains("\"token\": \"{{access}}\"");
    }

    @Test
    void aLogInByCookieIsMadeOnceByEachUser() throws Exception {
        Imported imported = captured(entry("GET", "/", "", "", header("Set-Cookie", "seen=1; Path=/"), "{}"),
                entry("POST", "/login", header("Content-Type", "application/json"), "{\"user\": \"ada\"}",
                        header("Set-Cookie", "sid=tern-7; HttpOnly"), "{}"),
                entry("GET", "/berths/7", header("Cookie", "seen=1; sid=tern-7"), "", "", "{}"));
        Workload workload = into(imported);
        assertThat(workload.first()).extracting(Call::path).containsExactly("/login");
        assertThat(workload.visits().getFirst().calls()).extracting(Call::path).containsExactly("/", "/berths/7");
        assertThat(StudyFile.read(folder.resolve("s")).study().candidates().getFirst().access().wire().cookies())
                .as("each user keeps the cookies that it is given").isTrue();
    }

    /** What is there for one user, such as a client's secret or a header against forgery, is a reference in the study. */
    @Test
    void secretsOfBodiesAndHeadersBecomeReferences() throws Exception {
        FoundCall call = CommandImport
                .read("curl http://h/token -H 'X-XSRF-TOKEN: gull-42' -H 'Authorization: Digest x=y'"
                        + " -d 'client_id=board&client_secret=neap-tide&password=ebb'")
                .kept().getFirst();
        assertThat(call.headers()).contains(new Call.Header("X-XSRF-TOKEN", "{{env:KADREM_X_XSRF_TOKEN}}"),
                new Call.Header("Authorization", "{{env:KADREM_AUTHORIZATION}}"));
        assertThat(call.body()).doesNotContain("neap-tide").contains("client_id=board")
                .contains("client_secret={{env:KADREM_CLIENT_SECRET}}");
    }

    /** The message form of RFC 9112, section 2.1. */
    @Test
    void aRequestTextIsReadLineByLine() throws Exception {
        FoundCall call = RequestTextImport.read("""
                PUT /berths/7?x=1 HTTP/1.1
                Host: board.example:8080
                X-Quay: Alder

                {"free": true}
                """).kept().getFirst();
        assertThat(call.method() + " " + call.host() + call.target()).isEqualTo("PUT board.example:8080/berths/7?x=1");
        assertThat(call.headers()).containsExactly(new Call.Header("X-Quay", "Alder"));
        assertThat(call.body()).isEqualTo("{\"free\": true}");
        assertThat(RequestTextImport.read("GET http://h:1/a").kept().getFirst().host()).isEqualTo("h:1");
        assertThatThrownBy(() -> RequestTextImport.read("hello")).hasMessageContaining("Line 1");
        assertThatThrownBy(() -> RequestTextImport.read("GET /a\nno header")).hasMessageContaining("Line 2");
    }

    @Test
    void anInterfaceDescriptionGivesACallForEachOperation() throws Exception {
        Imported imported = OpenApiImport.read("""
                openapi: 3.0.3
                info: {title: Berth board, version: "1"}
                servers: [{url: "http://127.0.0.1:8080/api"}]
                paths:
                  /berths/{id}:
                    parameters:
                      - {name: id, in: path, required: true, schema: {type: integer, example: 7}}
                    get:
                      parameters:
                        - {name: day, in: query, schema: {type: string, format: date}}
                      responses: {"200": {description: ok}}
                  /reservations:
                    post:
                      requestBody:
                        content:
                          application/json:
                            schema: {$ref: '#/components/schemas/Stay'}
                      responses: {"201": {description: booked}}
                components:
                  schemas:
                    Stay:
                      type: object
                      properties:
                        berth: {type: integer, minimum: 3}
                        vessel: {type: string, example: Tern}
                        tags: {type: array, items: {type: string, enum: [sail, motor]}}
                """);
        assertThat(imported.kept()).extracting(call -> call.method() + " " + call.target())
                .containsExactly("GET /api/berths/7?day=2026-07-14", "POST /api/reservations");
        assertThat(imported.kept().get(1).body())
                .isEqualTo("{\"berth\":3,\"vessel\":\"Tern\",\"tags\":[\"sail\"]}");
        assertThatThrownBy(() -> OpenApiImport.read("openapi: 3.1.0\ninfo: {title: x, version: '1'}"))
                .isInstanceOf(ImportException.class);
    }

    /** A capture from elsewhere must not name a secret of this machine. */
    @Test
    void capturedBracesAreNoReferences() throws Exception {
        Imported imported = CommandImport.read("curl http://127.0.0.1/a -d 'x={{file:/etc/passwd}}'");
        assertThat(imported.kept()).isEmpty();
        assertThat(imported.summary()).contains("1 with double braces");
    }

    /** What its user signed in with stays behind; and nothing of this machine's that is called alike is named in its place. */
    @Test
    void whatLooksLikeACredentialBecomesAReference() throws Exception {
        Imported imported = CommandImport.read("curl 'http://127.0.0.1/a?day=1&access_token=ebb-tide'"
                + " -H 'X-Client: eyJhbGciOiJub25lIn0x.eyJzdWIiOiJhIn0.c2ln'"
                + " --json '{\"name\": \"Ada\", \"AWS_SECRET_KEY\": \"spring-tide\"}'");
        FoundCall call = imported.kept().getFirst();
        assertThat(call.target()).isEqualTo("/a?day=1&access_token={{env:KADREM_ACCESS_TOKEN}}");
        assertThat(call.body()).isEqualTo("{\"name\": \"Ada\", \"AWS_SECRET_KEY\": \"{{env:KADREM_AWS_SECRET_KEY}}\"}");
        assertThat(call.headers()).contains(new Call.Header("X-Client", "{{env:KADREM_X_CLIENT}}"));
        assertThat(imported.notes()).hasSize(3).anyMatch(note -> note.contains("the value of access_token in POST /a"))
                .noneMatch(note -> note.contains("tide"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"http://127.0.0.1:1/x.yaml#/a", "other.yaml#/a", "/etc/hostname"})
    void aDescriptionFetchesNothing(String elsewhere) {
        assertThatThrownBy(() -> OpenApiImport.read("""
                openapi: 3.1.0
                info: {title: x, version: '1'}
                paths:
                  /berths:
                    get:
                      parameters:
                        - {$ref: '%s'}
                """.formatted(elsewhere))).isInstanceOf(ImportException.class)
                .hasMessageContaining(elsewhere).hasMessageContaining("Nothing is fetched");
    }

    /** Twenty schemas of which each holds ten of the next: written out they would be 10^20 values. */
    @Test
    @Timeout(60)
    void schemasThatReferToEachOtherDoNotGrowWithoutEnd() throws Exception {
        var text = new StringBuilder("""
                openapi: 3.1.0
                info: {title: x, version: '1'}
                paths:
                  /berths:
                    post:
                      requestBody:
                        content: {application/json: {schema: {$ref: '#/components/schemas/s0'}}}
                components:
                  schemas:
                """);
        for (int level = 0; level < 20; level++) {
            text.append("    s").append(level).append(": {type: object, properties: {");
            for (int field = 0; field < 10; field++) {
                text.append("f").append(field).append(": {$ref: '#/components/schemas/s").append(level + 1)
                        .append("'}, ");
            }
            text.append("}}\n");
        }
        text.append("    s20: {type: string}\n");
        assertThat(OpenApiImport.read(text.toString()).kept()).singleElement()
                .satisfies(call -> assertThat(call.body()).startsWith("{\"f0\":{").hasSizeLessThan(4 << 20));
    }

    @Test
    void kindsAreToldByTheirLook() throws ImportException {
        assertThat(Importing.guess("curl http://h")).isEqualTo(Importing.Kind.COMMAND);
        assertThat(Importing.guess("GET /x HTTP/1.1")).isEqualTo(Importing.Kind.REQUEST);
        assertThat(Importing.guess("openapi: 3.1.0")).isEqualTo(Importing.Kind.DESCRIPTION);
        assertThat(Importing.guess("{\"log\": {}}")).isEqualTo(Importing.Kind.CAPTURE);
        assertThat(Importing.guess(capture())).isEqualTo(Importing.Kind.CAPTURE);
    }

    @Test
    void namesOfImportedCallsDoNotCollide() throws Exception {
        List<FoundCall> calls = IntStream.range(0, 3)
                .mapToObj(i -> new FoundCall("GET", "h", "/a?x=" + i, List.of(), "",
                        java.util.Optional.empty()))
                .toList();
        Workload workload = into(Imported.of("v", calls, java.util.Map.of(), List.of()));
        assertThat(workload.visits().getLast().calls()).extracting(Call::name).containsExactly("get-a", "get-a-2",
                "get-a-3");
    }
}
