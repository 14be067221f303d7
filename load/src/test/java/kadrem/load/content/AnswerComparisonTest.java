package kadrem.load.content;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import kadrem.core.study.AnswerPart;
import java.util.Map;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;

import kadrem.core.rehearsal.Difference;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Timeline;
import kadrem.core.study.Agreement;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import org.junit.jupiter.api.Test;

class AnswerComparisonTest {
    private static RehearsedCall answer(int status, String type, String body, Call.Header... more) {
        var headers = new java.util.ArrayList<>(List.of(more));
        headers.add(new Call.Header("Content-Type", type));
        Bytes bytes = Bytes.of(body.getBytes(StandardCharsets.UTF_8));
        return new RehearsedCall("v", "c", "", status, headers, 0, bytes, bytes, "", Timeline.NONE, Optional.empty(),
                "");
    }

    private static List<String> places(Agreement agreement, String type, String one, String other)
            throws UnreadableContent {
        return AnswerComparison.under(agreement).compare("b", answer(200, type, one), answer(200, type, other)).stream()
                .map(difference -> difference.where() + " " + difference.baseline() + "|" + difference.value())
                .toList();
    }

    private static List<String> json(Agreement agreement, String one, String other) throws UnreadableContent {
        return places(agreement, "application/json", one, other);
    }

    @Test
    void jsonIsComparedMemberByMember() throws UnreadableContent {
        assertThat(json(Agreement.EXACT, "{\"a\":1,\"b\":[1,2]}", "{\"b\": [1, 2], \"a\": 1.0}"))
                .as("order of members and form of numbers are of no consequence").isEmpty();
        assertThat(json(Agreement.EXACT, "{\"a\":{\"x y\":1},\"b\":[1,2],\"c\":\"t\"}",
                "{\"a\":{\"x y\":2},\"b\":[1,3,4],\"d\":null}")).containsExactly("$.a['x y'] 1|2", "$.b[1] 2|3",
                        "$.b[2] |4", "$.c \"t\"|", "$.d |null");
        assertThat(json(Agreement.EXACT, "{\"a\":\"1\"}", "{\"a\":1}")).containsExactly("$.a \"1\"|1");
    }

    @Test
    void arraysMayBeSetsAndNumbersMayBeNear() throws UnreadableContent {
        var lenient = new Agreement(List.of(), List.of("$..at"), 0.001, true, List.of());
        assertThat(json(lenient, "[{\"n\":1000,\"at\":1},{\"n\":2}]", "[{\"n\":2,\"at\":7},{\"n\":1000.5}]")).isEmpty();
        assertThat(json(lenient, "[1,2,2]", "[2,1,3]")).containsExactly("$[2] 2|", "$[*] |3");
        assertThat(json(lenient, "{\"n\":1000}", "{\"n\":1002}")).containsExactly("$.n 1000|1002");
        assertThatThrownBy(() -> AnswerComparison.under(new Agreement(List.of(), List.of("x"), 0, false, List.of())))
                .isInstanceOf(UnreadableContent.class);
    }

    @Test
    void xmlIsComparedWhateverItsIndentation() throws UnreadableContent {
        assertThat(places(Agreement.EXACT, "text/xml", "<a x='1' y='2'><b>t</b></a>",
                "<a y=\"2\" x=\"1\">\n  <b>t</b>\n</a>")).isEmpty();
        assertThat(places(Agreement.EXACT, "text/xml", "<a x='1'><b>t</b></a>", "<a x='2'><b>u</b></a>"))
                .containsExactlyInAnyOrder("/a[1]/@x 1|2", "/a[1]/b[1]/text()[1] t|u");
    }

    @Test
    void whatIsNeitherIsComparedAsBytes() throws UnreadableContent {
        assertThat(places(Agreement.EXACT, "text/plain", "a", "b")).containsExactly("body a|b");
        assertThat(json(Agreement.EXACT, "<a>", "<b>")).as("says JSON and is none").containsExactly("body <a>|<b>");
    }

    @Test
    void statusAndHeadersAreCompared() throws UnreadableContent {
        List<Difference> found = AnswerComparison.under(Agreement.EXACT).compare("b",
                answer(200, "text/plain", "x", new Call.Header("ETag", "1"), new Call.Header("Server", "one")),
                answer(404, "text/html", "x", new Call.Header("etag", "2"), new Call.Header("Server", "two")));
        assertThat(found).extracting(Difference::where).containsExactly("status", "header etag",
                "header content-type");
        assertThat(found.getFirst().sentence()).isEqualTo("c, b: status is 404, and 200 for the baseline");
    }

    @Test
    void prettyIsIndentedOrHexadecimal() {
        assertThat(Pretty.print("{\"a\":1}".getBytes(), "application/json")).isEqualTo("{\n  \"a\" : 1\n}");
        assertThat(Pretty.print("<a><b/></a>".getBytes(), "text/xml")).contains("\n").contains("<b/>");
        assertThat(Pretty.print("hello".getBytes(), "text/plain")).isEqualTo("hello");
        assertThat(Pretty.print(new byte[]{(byte) 0xff, 'A'}, "image/png")).startsWith("000000  ff 41").contains("·A");
    }

    private static List<String> across(String one, AnswerPart onePart, String two, AnswerPart twoPart)
            throws Exception {
        byte[] first = one.getBytes(StandardCharsets.UTF_8);
        byte[] second = two.getBytes(StandardCharsets.UTF_8);
        return AnswerComparison.under(Agreement.EXACT)
                .compareAcross("other", new AnswerComparison.Side(plain(first), onePart),
                        new AnswerComparison.Side(plain(second), twoPart))
                .stream().map(Difference::sentence).toList();
    }

    private static RehearsedCall plain(byte[] body) {
        return new RehearsedCall("v", "c", "", 1, List.of(), 0, Bytes.of(body), Bytes.of(body), "", Timeline.NONE,
                Optional.empty(), "");
    }

    /** An answer of REST against rows, a message with 64-bit integers as texts, and an answer that is no more than a status. */
    @Test
    void answersInSeveralLanguagesAreSetAgainstEachOther() throws Exception {
        String rest = "{\"id\":7,\"depth\":2.5,\"error\":\"\"}";
        var withoutError = new AnswerPart("$", Map.of("error", ""));
        var firstRow = new AnswerPart("$[0]", Map.of("berth_id", "id"));
        assertThat(across(rest, withoutError, "[{\"berth_id\":7,\"depth\":2.5}]", firstRow)).isEmpty();
        assertThat(across(rest, withoutError, "{\"id\":\"7\",\"depth\":2.5}", AnswerPart.WHOLE)).isEmpty();
        assertThat(across(rest, withoutError, "[{\"berth_id\":8,\"depth\":2.5}]", firstRow))
                .containsExactly("c, other: $.id is 8, and 7 for the baseline");
        assertThat(across("{\"error\":\"taken\"}", withoutError, "", AnswerPart.WHOLE)).isEmpty();
        assertThat(across(rest, withoutError, "[]", firstRow)).singleElement().asString()
                .contains("nothing stands at $[0]");
        assertThat(across("[{\"id\":1},{\"id\":2}]", AnswerPart.WHOLE, "{\"rows\":[{\"id\":1},{\"id\":2}]}",
                new AnswerPart("$.rows[*]", Map.of()))).isEmpty();
    }
}
