package kadrem.files.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations.Expectation;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.ValueList;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class WorkloadReaderTest {
    private static final String HEAD = """
            kadrem: 1   # first line
            name: s
            question:
              text: Which one?
              decide: [{metric: p50}]
            candidates:
              - {id: a, address: "http://127.0.0.1:1"}
              - {id: b, address: "http://127.0.0.1:2"}
            """;
    private static final String TAIL = """
            load: {model: closed, users: 3, measured: 5s, thinkTime: exponential 200ms}
            # kept: about the plan
            plan: {rounds: 7}
            """;
    @TempDir
    private Path folder;

    private StudyFile read(String workload) throws IOException, StudyException {
        Files.writeString(folder.resolve("study.yaml"), HEAD + workload + TAIL);
        return StudyFile.read(folder);
    }

    private static String visit(String call) {
        return "workload:\n  visits:\n    - name: v\n      calls:\n        - " + call + "\n";
    }

    private Call call(String call) throws IOException, StudyException {
        return read(visit(call)).measured().workload().calls().getFirst();
    }

    @Test
    void everythingThatACallCanSay() throws Exception {
        Files.createDirectories(folder.resolve("values"));
        Files.writeString(folder.resolve("values/berth.json"), "{\"type\": \"object\"}");
        Call call = call(
                """
                        {name: c, method: post, path: /x, timeout: 2s, thinkTime: uniform 100ms to 300ms,
                          body: '{"a":1}', headers: {X-A: b},
                          expect: {status: [200, 300-304], within: 500ms, headers: {Content-Type: json}, holds: free,
                            matches: ["a+", "b+"], json: {"$.id": 7, "$.day": }, xml: {"/a": x}, schema: values/berth.json,
                            size: {least: 2, most: 900}, sha256: ab12cd34},
                          capture: {t: {json: $.token}, u: {xml: //u}, v: {pattern: "x(.)"}, w: {header: Location}, s: {cookie: sid}}}
                        """
                        .strip().replace("\n", "\n          "));
        assertThat(call.method()).isEqualTo("POST");
        assertThat(call.timeout()).hasValue(Duration.ofSeconds(2));
        assertThat(call.thinkTime()).hasValue(new ThinkTime.Uniform(Duration.ofMillis(100), Duration.ofMillis(300)));
        assertThat(call.body()).isEqualTo(new Body.Text(Body.Kind.JSON, "{\"a\":1}"));
        assertThat(call.expected().status().toString()).isEqualTo("200 or 300-304");
        assertThat(call.expected().within()).hasValue(Duration.ofMillis(500));
        assertThat(call.expected().content()).containsExactly(new Expectation.HeaderHolds("Content-Type", "json"),
                new Expectation.BodyHolds("free"), new Expectation.BodyMatches("a+"), new Expectation.BodyMatches("b+"),
                new Expectation.JsonValue("$.id", Optional.of("7")),
                new Expectation.JsonValue("$.day", Optional.empty()), new Expectation.XmlValue("/a", Optional.of("x")),
                new Expectation.JsonSchema("values/berth.json", "{\"type\": \"object\"}"), new Expectation.Size(2, 900),
                new Expectation.Hash("ab12cd34"));
        assertThat(call.captures()).extracting(Capture::source).containsExactly(new Capture.Source.Json("$.token"),
                new Capture.Source.Xml("//u"), new Capture.Source.Pattern("x(.)"),
                new Capture.Source.Header("Location"), new Capture.Source.Cookie("sid"));
    }

    @Test
    void bodiesOfAllKinds() throws Exception {
        Files.createDirectories(folder.resolve("values"));
        Files.write(folder.resolve("values/p.bin"), new byte[]{1, 2, 3});
        assertThat(call("{name: c, path: /x, form: {a: 1, b: \"{{env:B}}\"}}").body())
                .isEqualTo(new Body.Form(List.of(new Body.Field("a", "1"), new Body.Field("b", "{{env:B}}"))));
        assertThat(call("{name: c, path: /x, file: values/p.bin, bodyType: image/png}").body())
                .satisfies(body -> assertThat(body.contentType()).isEqualTo("image/png"));
        assertThat(call("{name: c, path: /x, parts: [{name: n, body: hello}, {name: p, file: values/p.bin}]}").body())
                .isInstanceOfSatisfying(Body.Multipart.class, parts -> assertThat(parts.parts()).hasSize(2));
        assertThat(call("{name: c, path: /x, body: '<a/>'}").body().contentType()).isEqualTo("application/xml");
        assertThat(call("{name: c, path: /x, body: '1', bodyType: json}").body().contentType())
                .isEqualTo("application/json");
    }

    @Test
    void valueListsOfAllKindsTheFirstPartAndDefaults() throws Exception {
        Workload workload = read(
                """
                        workload:
                          choose: in-turn
                          defaults:
                            headers: {Accept: application/json, X-A: usual}
                            timeout: 9s
                            expect: [200]
                          values:
                            - {name: n, from: 1, to: 9}
                            - {name: z, kind: zipf, to: 100, exponent: 1.2}
                            - {name: p, kind: pick, of: [x, y], order: per-user}
                            - {name: u, kind: uuid, keep: call}
                            - {name: w, kind: text, length: 5}
                            - {name: t, kind: timestamp, from: 2026-07-01T00:00:00Z, to: 2026-07-01T00:00:09Z, as: seconds}
                          first:
                            - {name: sign-in, path: /in, capture: {token: {json: $.t}}}
                          visits:
                            - name: v
                              repeat: 3
                              calls:
                                - {name: a, path: "/{{n}}/{{z}}/{{u}}/{{w}}/{{t}}", headers: {X-A: "{{token}}"}, expect: {status: 404}}
                        """)
                .measured().workload();
        assertThat(workload.choice()).isEqualTo(Workload.Choice.IN_TURN);
        assertThat(workload.values()).extracting(ValueList::size).containsExactly(9L, 100L, 2L, Long.MAX_VALUE,
                Long.MAX_VALUE, 10L);
        assertThat(workload.values().get(2).draw().order()).isEqualTo(ValueList.Order.PER_USER);
        assertThat(workload.values().get(3).draw().keep()).isEqualTo(ValueList.Keep.CALL);
        assertThat(workload.values().get(5).text(3)).isEqualTo("1782864003");
        assertThat(workload.first()).singleElement()
                .satisfies(call -> assertThat(call.timeout()).hasValue(Duration.ofSeconds(9)));
        Call call = workload.visits().getFirst().calls().getFirst();
        assertThat(workload.visits().getFirst().repeat()).isEqualTo(3);
        assertThat(call.headers()).containsExactly(new Call.Header("Accept", "application/json"),
                new Call.Header("X-A", "{{token}}"));
        assertThat(call.expected().status().toString()).isEqualTo("404");
        assertThat(workload.capturedNames()).containsExactly("token");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"{name: c, path: '/{{who}}'} | no earlier call captures it",
            "{name: c, path: /x, thinkTime: long} | uniform 100ms to 500ms",
            "{name: c, path: /x, expect: [2xx]} | Write statuses like this",
            "{name: c, path: /x, expect: {matches: '['}} | regular expression that cannot be read",
            "{name: c, path: /x, expect: {schema: values/none.json}} | there is no such file",
            "{name: c, path: /x, expect: {size: {least: 9, most: 1}}} | Use least and most",
            "{name: c, path: /x, body: a, form: {b: c}} | stands beside body",
            "{name: c, path: /x, file: ../../etc/hostname} | lies outside the study",
            "{name: c, path: /x, capture: {t: {jsn: $.t}}} | says none of json, xml, pattern, header, cookie",
            "{name: c, path: /x, bodyType: yaml, body: a} | Use one of: text, json, xml"})
    void whatIsWrongIsToldWithItsMend(String call, String words) {
        assertThatThrownBy(() -> call(call)).isInstanceOf(StudyException.class).hasMessageContaining("line ")
                .hasMessageContaining(words);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"none", "250ms", "uniform 100ms to 500ms", "exponential 1s",
            "normal 1s sd 200ms", "lognormal 1s sd 500ms"})
    void thinkTimesAreWrittenAsTheyAreRead(String text) {
        assertThat(ThinkTimes.parse(text).map(ThinkTimes::write)).hasValue(text);
        assertThat(ThinkTimes.parse("uniform 5s to 1s")).isEmpty();
        assertThat(ThinkTimes.parse("normal 1s")).isEmpty();
    }

    @Test
    void callsThatNeverVaryAndShortListsAreWarnedOf() throws Exception {
        StudyFile file = read("""
                workload:
                  values: [{name: account, kind: pick, of: [ada, bo], order: per-user}]
                  visits: [{name: v, calls: [{name: a, path: "/{{account}}"}, {name: b, path: /same}]}]
                """);
        assertThat(file.warnings()).extracting(Object::toString).anyMatch(text -> text.contains("2 rows for 3 users"))
                .anyMatch(text -> text.contains("never varies"));
    }

    @Test
    void anEditWritesItsGroupAnewAndLeavesTheRestToTheLetter() throws Exception {
        StudyFile file = read("""
                workload:
                  x-mine: kept
                  visits:
                    - name: v
                      x-owner: harbour
                      calls:
                        - {name: a, path: "/a"}
                """);
        StudyFile changed = file.with(List.of(
                new Edit.Put("workload.visits[0].calls[0]",
                        Map.of("path", Optional.of("/b:c%23"), "timeout", Optional.of("2s"))),
                new Edit.Insert("workload.visits[0].calls", 1, Map.of("name", "second", "path", "/s")),
                new Edit.Insert("workload.values", 0, Map.of("name", "n", "from", 1, "to", 3)),
                new Edit.Put("candidates[1].launch", Map.of("command", Optional.of(List.of("run", "1"))))));
        assertThat(changed.text()).startsWith("kadrem: 1   # first line\n").contains("# kept: about the plan\nplan:")
                .contains("x-mine: kept").contains("x-owner: harbour");
        MeasuredStudy study = changed.measured();
        assertThat(study.workload().calls()).extracting(Call::path).containsExactly("/b:c%23", "/s");
        assertThat(study.workload().calls()).extracting(Call::name).containsExactly("a", "second");
        assertThat(study.candidates().get(1).launch().orElseThrow().command()).containsExactly("run", "1");
        StudyFile moved = changed.with(List.of(new Edit.Move("workload.visits[0].calls", 1, 0),
                new Edit.Put("workload.visits[0].calls[1]", Map.of("timeout", Optional.empty())),
                new Edit.Remove("workload.values", 0)));
        assertThat(moved.measured().workload().calls()).extracting(Call::name).containsExactly("second", "a");
        assertThat(moved.text()).doesNotContain("timeout");
    }

    @Test
    void anEditThatWouldSpoilTheStudyIsRefused() throws Exception {
        StudyFile file = read(visit("{name: a, path: /a}"));
        assertThatThrownBy(() -> file.with(List.of(new Edit.Remove("workload.visits[0].calls", 0))))
                .isInstanceOf(StudyException.class).hasMessageContaining("is empty. Add one at least");
        assertThatThrownBy(() -> file.with(List.of(new Edit.Put("workload.visits[7]", Map.of()))))
                .hasMessageContaining("no such place");
        assertThatThrownBy(() -> file.with(List.of(new Edit.Insert("workload.visits[0].calls", 9, Map.of()))))
                .isInstanceOf(StudyException.class);
    }

    @Test
    void agreementOfAnswers() throws Exception {
        MeasuredStudy study = read("rehearsal:\n  ignoreHeaders: [ETag]\n  ignoreJson: [$.at]\n  tolerance: 0.1%\n"
                + "  arrays: as-sets\n  accepted: [{call: a, where: $.id, reason: counted apart}]\n"
                + visit("{name: a, path: /a}")).measured();
        assertThat(study.agreement().ignoresHeader("etag")).isTrue();
        assertThat(study.agreement().ignoresHeader("date")).isTrue();
        assertThat(study.agreement().ignoresHeader("content-type")).isFalse();
        assertThat(study.agreement().tolerance()).isEqualTo(0.001);
        assertThat(study.agreement().reason("a", "$.id")).hasValue("counted apart");
        assertThat(study.agreement().reason("a", "$.id.deep")).isPresent();
        assertThat(study.agreement().reason("a", "$.identity")).isEmpty();
    }

    @Test
    void aNewStudyCanBeUsedAtOnceAndNothingIsOverwritten() throws Exception {
        NewStudy.create(folder.resolve("n"), "Two \"boards\"");
        assertThat(StudyFile.read(folder.resolve("n")).study().name()).isEqualTo("Two  boards");
        assertThatThrownBy(() -> NewStudy.create(folder.resolve("n"), "x")).isInstanceOf(IOException.class)
                .hasMessageContaining("There is a study");
        Files.writeString(folder.resolve("file"), "");
        assertThatThrownBy(() -> NewStudy.create(folder.resolve("file/x"), "x")).hasMessageContaining("cannot be made");
    }
}
