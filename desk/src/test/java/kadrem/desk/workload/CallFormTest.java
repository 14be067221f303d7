package kadrem.desk.workload;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Body;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.Expectations.Expectation;
import kadrem.core.study.Form;
import kadrem.core.study.StatusSet;
import kadrem.desk.workload.PartRows.Row;
import kadrem.files.study.Edit;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the form of a call writes is read back by the study file as the same call. */
class CallFormTest {
    private static final String PLACE = "workload.visits[0].calls[0]";
    @TempDir
    private Path folder;

    private Call written(Map<String, Optional<Object>> fields) throws Exception {
        Path study = folder.resolve("s" + System.nanoTime());
        NewStudy.create(study, "s");
        Files.createDirectories(study.resolve("values"));
        Files.writeString(study.resolve("values/s.json"), "{}");
        Files.writeString(study.resolve("values/p.bin"), "x");
        return StudyFile.read(study).with(List.of(new Edit.Put(PLACE, fields))).measured().workload().calls()
                .getFirst();
    }

    @Test
    void expectationsGoThereAndBack() throws Exception {
        var expected = new Expectations(
                new StatusSet(List.of(new StatusSet.Range(200, 204), new StatusSet.Range(409, 409))),
                Optional.of(Duration.ofMillis(500)),
                List.of(new Expectation.HeaderHolds("ETag", ""), new Expectation.BodyHolds("free: yes"),
                        new Expectation.BodyMatches("a{2}"), new Expectation.JsonValue("$.a", Optional.of("7")),
                        new Expectation.JsonValue("$.b", Optional.empty()),
                        new Expectation.XmlValue("/a", Optional.of("x")),
                        new Expectation.JsonSchema("values/s.json", "{}"), new Expectation.Size(2, 90),
                        new Expectation.Hash("ab12cd34")));
        Call call = Call.of("c", "GET", "/").expecting(expected);
        Call read = written(Map.of("expect", CallForm.expect(CallForm.statuses(call),
                CallForm.within(call.expected()), CallForm.expectations(call))));
        assertThat(read.expected().status()).isEqualTo(expected.status());
        assertThat(read.expected().within()).isEqualTo(expected.within());
        assertThat(read.expected().content()).containsExactlyInAnyOrderElementsOf(expected.content());
    }

    @Test
    void anAnswerThatIsTheWholeOneIsNotWritten() {
        assertThat(CallForm.answer(" $ ", List.of())).isEmpty();
    }

    @Test
    void statusesAloneStayAList() throws Exception {
        assertThat(CallForm.expect(" 200, 404 ", "", List.of())).hasValue(List.of("200", "404"));
        assertThat(CallForm.expect("", "", List.of())).isEmpty();
        assertThat(written(Map.of("expect", CallForm.expect("200 300-304", "", List.of()))).expected().status()
                .toString()).isEqualTo("200 or 300-304");
        assertThat(CallForm.expect("", "", List.of(new Row("body size", "", "9"), new Row("body holds", "x", ""))))
                .hasValueSatisfying(group -> assertThat(group).hasToString("{size={least=0, most=9}, holds=[x]}"));
    }

    @Test
    void capturesGoThereAndBack() throws Exception {
        List<Capture> captures = List.of(new Capture("a", new Capture.Source.Json("$.a")),
                new Capture("b", new Capture.Source.Xml("//b")), new Capture("c", new Capture.Source.Pattern("c(.)")),
                new Capture("d", new Capture.Source.Header("D")), new Capture("e", new Capture.Source.Cookie("e")));
        Call call = Call.of("c", "GET", "/").capturing(captures.toArray(Capture[]::new));
        assertThat(written(Map.of("capture", CallForm.capture(CallForm.captures(call)))).captures())
                .isEqualTo(captures);
        assertThat(CallForm.capture(List.of())).isEmpty();
    }

    @Test
    void bodiesGoThereAndBack() throws Exception {
        List<Body> bodies = List.of(new Body.Text(Body.Kind.JSON, "{\"a\": 1}"), new Body.Text(Body.Kind.XML, "<a/>"),
                new Body.Text(Body.Kind.TEXT, "plain: text"), new Body.Text(Body.Kind.JSON, "7"),
                new Body.Form(List.of(new Body.Field("a", "1"), new Body.Field("b", "x=y"))), Body.NONE);
        for (Body body : bodies) {
            Call call = Call.of("c", "POST", "/").withBody(body);
            assertThat(again(call)).isEqualTo(body);
        }
        Call file = Call.of("c", "POST", "/").withBody(
                new Body.FromFile("values/p.bin", "application/octet-stream", Bytes.of("x".getBytes())));
        assertThat(again(file)).isEqualTo(file.body());
        Call parts = Call.of("c", "POST", "/").withBody(new Body.Multipart(List.of(
                new Body.Part("note", new Body.Text(Body.Kind.TEXT, "hello, you")),
                new Body.Part("berth", new Body.Text(Body.Kind.JSON, "{\"id\": 7}")),
                new Body.Part("photo", new Body.FromFile("values/p.bin", "image/png", Bytes.of("x".getBytes()))))));
        assertThat(again(parts)).isEqualTo(parts.body());
    }

    private Body again(Call call) throws Exception {
        return written(CallForm.body(CallForm.bodyKind(call), CallForm.bodyText(call), CallForm.parts(call))).body();
    }

    @Test
    void headersThatAllCallsHaveAreNotWrittenIntoACall() {
        List<PartRows.Row> rows = List.of(new PartRows.Row("", "accept", "application/json"),
                new PartRows.Row("", "X-Trace", "1"));
        assertThat(CallForm.ownHeaders(rows, Map.of("Accept", "application/json"))).containsExactly(rows.get(1));
        assertThat(CallForm.ownHeaders(rows, Map.of("Accept", "*/*"))).isEqualTo(rows);
    }

    @Test
    void headersGoThereAndBack() throws Exception {
        Call call = Call.of("c", "GET", "/").withHeaders(
                List.of(new Call.Header("Accept", "a, b"), new Call.Header("X-Key", "{{env:K}}")));
        assertThat(written(Map.of("headers", CallForm.map(CallForm.headers(call)))).headers())
                .isEqualTo(call.headers());
    }
}
