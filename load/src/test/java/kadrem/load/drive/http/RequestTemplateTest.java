package kadrem.load.drive.http;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import io.netty.buffer.UnpooledByteBufAllocator;
import kadrem.core.plan.LoadStream;
import kadrem.core.study.Address;
import kadrem.core.study.Body;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.SignIn;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Piece;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import org.junit.jupiter.api.Test;

class RequestTemplateTest {
    private static final Address ADDRESS = new Address("127.0.0.1", 8080, "/api");

    private static final Credentials NONE = none();

    private static Credentials none() {
        try {
            return Credentials.of(new SignIn.None(), new Secrets(Map.of(), Path.of("")));
        } catch (UnusableCall impossible) {
            throw new AssertionError(impossible);
        }
    }

    private static String render(Call call, ValueList... lists) {
        var workload = new Workload(List.of(lists), List.of(new Visit("v", 1, List.of(call))));
        var stream = new LoadStream(workload, 0, 1);
        LoadStream.Draw draw = stream.newDraw();
        stream.draw(0, 0, draw);
        var values = new CallValues(draw, workload.capturedNames().size());
        java.util.Arrays.fill(values.captured(), "a\r\nb".getBytes(StandardCharsets.UTF_8));
        ByteBuf request = template(call, workload).render(UnpooledByteBufAllocator.DEFAULT, values);
        try {
            return request.toString(StandardCharsets.UTF_8);
        } finally {
            request.release();
        }
    }

    private static RequestTemplate template(Call call, Workload workload) {
        try {
            return new RequestTemplate(call, ADDRESS, workload, NONE,
                    new Secrets(Map.of("BERTH_TOKEN", "tok-31415"), Path.of("")), Wire.USUAL);
        } catch (UnusableCall cause) {
            throw new AssertionError(cause);
        }
    }

    private static Call call(String method, String path, String body, Call.Header... headers) {
        return Call.of("c", method, path).withHeaders(List.of(headers)).withBody(body);
    }

    @Test
    void aPlainCallIsAWholeRequest() {
        assertThat(render(call("GET", "/berths/7", "", new Call.Header("Accept", "*/*"))))
                .isEqualTo("GET /api/berths/7 HTTP/1.1\r\nHost: 127.0.0.1:8080\r\nAccept: */*\r\n\r\n");
    }

    private static String body(Body.Kind kind, String template, String value) {
        Call call = Call.of("c", "POST", "/r").withBody(new Body.Text(kind, template));
        String request = render(call, new ValueList.Listed("v", "", "", List.of(value)));
        return request.substring(request.indexOf("\r\n\r\n") + 4);
    }

    /** RFC 8259, section 7; XML 1.0 (Fifth Edition), sections 2.4 and 2.7. */
    @Test
    void valuesAreEscapedAsTheirPlaceInTheBodyAsks() {
        String value = "Tern \"II\" & <Co>\n";
        assertThat(body(Body.Kind.JSON, "{\"a\": \"{{v}}\", \"b\\\"\": \"x{{v}}\"}", value)).isEqualTo(
                "{\"a\": \"Tern \\\"II\\\" & <Co>\\n\", \"b\\\"\": \"xTern \\\"II\\\" & <Co>\\n\"}");
        assertThat(body(Body.Kind.JSON, "{\"a\": {{v}}}", "[1, 2]")).as("outside of strings as it is")
                .isEqualTo("{\"a\": [1, 2]}");
        assertThat(body(Body.Kind.XML, "<v name=\"{{v}}\">{{v}}<![CDATA[{{v}}]]></v>", "a & \"b\" <c>")).isEqualTo(
                "<v name=\"a &amp; &quot;b&quot; &lt;c&gt;\">a &amp; &quot;b&quot; &lt;c&gt;<![CDATA[a & \"b\" <c>]]></v>");
        assertThat(body(Body.Kind.TEXT, "say {{v}}", "\"hi\" & <bye>")).isEqualTo("say \"hi\" & <bye>");
    }

    @Test
    void theLengthOfABodyFollowsItsValues() {
        String request = render(call("POST", "/r", "{\"berth\":{{n}},\"name\":\"{{who}}\"}"),
                new ValueList.NumberRange("n", -105, -105), new ValueList.Listed("who", "f", "c", List.of("Ærø")));
        assertThat(request).isEqualTo("POST /api/r HTTP/1.1\r\nHost: 127.0.0.1:8080\r\n"
                + "Content-Type: application/json\r\nContent-Length: 29\r\n\r\n{\"berth\":-105,\"name\":\"Ærø\"}");
        assertThat("{\"berth\":-105,\"name\":\"Ærø\"}".getBytes(StandardCharsets.UTF_8)).hasSize(29);
    }

    @Test
    void anEmptyPostSaysSo() {
        assertThat(render(call("POST", "/reset", ""))).contains("Content-Length: 0\r\n");
    }

    /** RFC 3986, section 2.3 for what stays, section 2.1 for the rest; "Ærø" in UTF-8 is C3 86 72 C3 B8. */
    @Test
    void valuesInThePathArePercentEncoded() {
        assertThat(render(call("GET", "/x?q={{v}}", ""),
                new ValueList.Listed("v", "f", "c", List.of("a b&c=d/ÆrøA-Z.~_")))).startsWith(
                        "GET /api/x?q=a%20b%26c%3Dd%2F%C3%86r%C3%B8A-Z.~_ HTTP/1.1\r\n");
    }

    @Test
    void aFormIsEncodedFieldByField() {
        Call form = Call.of("c", "POST", "/r")
                .withBody(new Body.Form(List.of(new Body.Field("vessel name", "{{v}} & co"),
                        new Body.Field("nights", "3"))));
        assertThat(render(form, new ValueList.Listed("v", "", "", List.of("Tern=1"))))
                .contains("Content-Type: application/x-www-form-urlencoded\r\n").contains("Content-Length: 42\r\n")
                .endsWith("\r\n\r\nvessel%20name=Tern%3D1%20%26%20co&nights=3");
    }

    /** The form of RFC 7578, section 4. */
    @Test
    void aMultipartBodyHoldsTextsAndFiles() {
        Call parts = Call.of("c", "POST", "/r").withBody(new Body.Multipart(List.of(
                new Body.Part("note", new Body.Text(Body.Kind.TEXT, "{{v}}")),
                new Body.Part("photo", new Body.FromFile("values/tern.png", "image/png",
                        Bytes.of("PNG".getBytes(StandardCharsets.US_ASCII)))))));
        String boundary = "--" + Body.Multipart.BOUNDARY;
        assertThat(render(parts, new ValueList.Listed("v", "", "", List.of("hello"))))
                .contains("Content-Type: multipart/form-data; boundary=" + Body.Multipart.BOUNDARY + "\r\n")
                .endsWith("\r\n\r\n" + boundary + "\r\nContent-Disposition: form-data; name=\"note\"\r\n\r\nhello\r\n"
                        + boundary + "\r\nContent-Disposition: form-data; name=\"photo\"; filename=\"tern.png\"\r\n"
                        + "Content-Type: image/png\r\n\r\nPNG\r\n" + boundary + "--\r\n");
    }

    @Test
    void aCapturedValueCannotEndItsHeader() {
        Call call = Call.of("c", "GET", "/x").withHeaders(List.of(new Call.Header("X-Token", "{{t}}")))
                .capturing(new Capture("t", new Capture.Source.Header("X-Token")));
        assertThat(render(call)).contains("X-Token: a b\r\n");
    }

    @Test
    void secretsAreSentAndNotShown() {
        Call call = Call.of("c", "GET", "/x")
                .withHeaders(List.of(new Call.Header("X-Berth", "Bearer {{env:BERTH_TOKEN}}")));
        assertThat(render(call)).contains("X-Berth: Bearer tok-31415\r\n");
        var workload = new Workload(List.of(), List.of(new Visit("v", 1, List.of(call))));
        var values = new CallValues(new LoadStream(workload, 0, 1).newDraw(), 0);
        assertThat(template(call, workload).shown(values, 4096))
                .contains("X-Berth: Bearer (secret env:BERTH_TOKEN)").doesNotContain("31415");
        Call missing = Call.of("c", "GET", "/x")
                .withHeaders(List.of(new Call.Header("X-Berth", "{{env:NOT_THERE}}")));
        assertThatThrownBy(
                () -> new RequestTemplate(missing, ADDRESS, workload, NONE, new Secrets(Map.of(), Path.of("")),
                        Wire.USUAL))
                .isInstanceOf(UnusableCall.class).hasMessageContaining("NOT_THERE is not set");
    }

    @Test
    void numbersAreWrittenLikeJavaWritesThem() {
        for (long number : new long[]{0, 7, 10, 99, 100, -1, -987, 2_147_483_648L, 999_999_999_999_999_999L}) {
            ByteBuf out = Unpooled.buffer();
            Piece.writeNumber(out, number);
            assertThat(out.toString(StandardCharsets.US_ASCII)).isEqualTo(Long.toString(number));
        }
    }
}
