package kadrem.load.content;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.zip.DeflaterOutputStream;
import java.util.zip.GZIPOutputStream;

import com.github.luben.zstd.Zstd;
import com.sun.net.httpserver.HttpServer;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.Expectations.Expectation;
import kadrem.core.study.StatusSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

class ResponseCheckTest {
    private static final String BERTH = "{\"id\":7,\"quay\":\"Alder\",\"free\":true,\"reservations\":[{\"day\":\"2026-07-14\"}]}";

    private record Response(Map<String, List<String>> heads, byte[] body) implements ResponseView {
        static Response of(String body) {
            return new Response(Map.of(), body.getBytes(StandardCharsets.UTF_8));
        }

        @Override
        public List<String> headers(String name) {
            return heads.getOrDefault(name, List.of());
        }
    }

    private static String check(Response response, Expectation... expectations) throws UnreadableContent {
        Call call = Call.of("c", "GET", "/x")
                .expecting(new Expectations(StatusSet.ANY_SUCCESS, Optional.empty(), List.of(expectations)));
        return ResponseCheck.of(call, List.of()).orElseThrow().check(response, new byte[0][]);
    }

    @Test
    void whatIsAsExpectedIsNotRemarkedOn() throws UnreadableContent {
        assertThat(check(Response.of(BERTH), new Expectation.BodyHolds("Alder"),
                new Expectation.BodyMatches("\"id\":\\d+"),
                new Expectation.JsonValue("$.id", Optional.of("7")),
                new Expectation.JsonValue("$.reservations[0].day", Optional.empty()),
                new Expectation.JsonSchema("berth.json",
                        """
                                {"type": "object", "required": ["id"], "properties": {"id": {"type": "integer", "minimum": 1}}}"""),
                new Expectation.Size(10, 200))).isEmpty();
        assertThat(ResponseCheck.of(Call.of("c", "GET", "/x"), List.of())).isEmpty();
    }

    @Test
    void eachExpectationSaysWhatItFound() throws UnreadableContent {
        Response berth = Response.of(BERTH);
        assertThat(check(berth, new Expectation.BodyHolds("Birch"))).isEqualTo("the body does not hold \"Birch\"");
        assertThat(check(berth, new Expectation.BodyMatches("^x"))).isEqualTo("the body does not match ^x");
        assertThat(check(berth, new Expectation.JsonValue("$.id", Optional.of("8"))))
                .isEqualTo("$.id is \"7\", and not \"8\"");
        assertThat(check(berth, new Expectation.JsonValue("$.owner", Optional.empty())))
                .isEqualTo("$.owner finds nothing");
        assertThat(check(berth, new Expectation.Size(0, 10))).contains("bytes, and not 0 to 10 bytes");
        assertThat(check(berth, new Expectation.HeaderHolds("ETag", ""))).isEqualTo("header ETag is missing");
        assertThat(check(new Response(Map.of("Content-Type", List.of("text/html")), new byte[0]),
                new Expectation.HeaderHolds("Content-Type", "JSON")))
                .isEqualTo("header Content-Type is \"text/html\", without \"JSON\"");
        assertThat(check(berth, new Expectation.JsonSchema("berth.json", "{\"required\": [\"length\"]}")))
                .contains("does not follow berth.json").contains("length");
        assertThat(check(Response.of("<b/>"), new Expectation.JsonValue("$.id", Optional.empty())))
                .contains("not JSON");
    }

    /** The error that comes with a 200 is found by what the body must hold. */
    @Test
    void aGoodStatusWithAnErrorInItFails() throws UnreadableContent {
        assertThat(check(Response.of("{\"error\":\"database is down\"}"),
                new Expectation.JsonValue("$.free", Optional.empty()))).isEqualTo("$.free finds nothing");
    }

    @Test
    void xmlIsAskedWithXPathAndDocumentTypesAreRefused() throws UnreadableContent {
        Response xml = Response.of("<board><berth id='7'>Alder</berth></board>");
        assertThat(check(xml, new Expectation.XmlValue("/board/berth/@id", Optional.of("7")),
                new Expectation.XmlValue("count(/board/berth)", Optional.of("1")))).isEmpty();
        assertThat(check(xml, new Expectation.XmlValue("/board/ship", Optional.empty())))
                .isEqualTo("/board/ship finds nothing");
        Response outside = Response.of("<!DOCTYPE b [<!ENTITY x SYSTEM 'file:///etc/hostname'>]><b>&x;</b>");
        assertThat(check(outside, new Expectation.XmlValue("/b", Optional.empty()))).contains("not XML");
    }

    /** FIPS 180-4, example of one block: SHA-256 of "abc". */
    @Test
    void theHashIsOfTheDecodedBody() throws UnreadableContent, IOException {
        String known = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";
        assertThat(check(Response.of("abc"), new Expectation.Hash(known))).isEmpty();
        assertThat(check(Response.of("abc"), new Expectation.Hash(known.substring(0, 16)))).isEmpty();
        assertThat(check(Response.of("abd"), new Expectation.Hash(known))).contains("and not " + known);
        assertThat(check(new Response(Map.of("Content-Encoding", List.of("gzip")), gzip("abc")),
                new Expectation.Hash(known))).isEmpty();
    }

    private static byte[] gzip(String text) throws IOException {
        var bytes = new ByteArrayOutputStream();
        try (var out = new GZIPOutputStream(bytes)) {
            out.write(text.getBytes(StandardCharsets.UTF_8));
        }
        return bytes.toByteArray();
    }

    @Test
    void contentCodingsAreUndone() throws Exception {
        byte[] plain = "berth".getBytes(StandardCharsets.UTF_8);
        var zlib = new ByteArrayOutputStream();
        try (var out = new DeflaterOutputStream(zlib)) {
            out.write(plain);
        }
        var bare = new ByteArrayOutputStream();
        try (var out = new DeflaterOutputStream(bare, new java.util.zip.Deflater(9, true))) {
            out.write(plain);
        }
        assertThat(Decoding.decode(gzip("berth"), "gzip")).isEqualTo(plain);
        assertThat(Decoding.decode(zlib.toByteArray(), "deflate")).isEqualTo(plain);
        assertThat(Decoding.decode(bare.toByteArray(), "deflate")).isEqualTo(plain);
        assertThat(Decoding.decode(Zstd.compress(plain), "zstd")).isEqualTo(plain);
        // RFC 7932: a stream whose only meta-block is uncompressed and holds "berth", then the empty last one
        assertThat(Decoding.decode(HexFormat.of().parseHex("0b02806265727468" + "03"), "br")).isEqualTo(plain);
        assertThat(Decoding.decode(gzip("berth"), "identity, gzip")).isEqualTo(plain);
        assertThatThrownBy(() -> Decoding.decode(plain, "gzip")).isInstanceOf(UnreadableContent.class)
                .hasMessageContaining("not gzip, as its Content-Encoding says");
        assertThatThrownBy(() -> Decoding.decode(plain, "rot13")).hasMessageContaining("rot13 is not known");
    }

    @Test
    void valuesAreCapturedFromEverywhere() throws UnreadableContent {
        Call call = Call.of("c", "GET", "/x").capturing(new Capture("id", new Capture.Source.Json("$.id")),
                new Capture("quay", new Capture.Source.Pattern("\"quay\":\"([^\"]+)\"")),
                new Capture("where", new Capture.Source.Header("Location")),
                new Capture("session", new Capture.Source.Cookie("session")));
        List<String> names = List.of("session", "where", "quay", "id");
        var captured = new byte[4][0];
        var response = new Response(Map.of("Location", List.of("/berths/7"), "Set-Cookie",
                List.of("theme=dark", "session=s-1; Path=/; HttpOnly")), BERTH.getBytes(StandardCharsets.UTF_8));
        ResponseCheck check = ResponseCheck.of(call, names).orElseThrow();
        assertThat(check.check(response, captured)).isEmpty();
        assertThat(java.util.Arrays.stream(captured).map(String::new)).containsExactly("s-1", "/berths/7", "Alder",
                "7");
        assertThat(check.check(Response.of("{}"), captured))
                .isEqualTo("id was not captured: nothing at JSON $.id");
    }

    /** A schema that came with a study neither asks an address nor reads a file; the dialect itself needs no fetching. */
    @Test
    void aSchemaFetchesNothing() throws Exception {
        var asked = new AtomicInteger();
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", exchange -> {
            asked.incrementAndGet();
            exchange.sendResponseHeaders(200, -1);
            exchange.close();
        });
        server.start();
        try {
            for (String reference : List.of("http://127.0.0.1:" + server.getAddress().getPort() + "/berth.json",
                    "file:///etc/hostname")) {
                assertThatThrownBy(() -> check(Response.of("{}"), new Expectation.JsonSchema("s.json",
                        "{\"$ref\": \"" + reference + "\"}"))).isInstanceOf(UnreadableContent.class)
                        .hasMessageContaining("which is not in it; nothing is fetched");
            }
            assertThat(asked).hasValue(0);
        } finally {
            server.stop(0);
        }
        assertThat(check(Response.of("{}"), new Expectation.JsonSchema("s.json",
                "{\"$schema\": \"https://json-schema.org/draft/2020-12/schema\", \"type\": \"object\"}"))).isEmpty();
    }

    /** An expression that backtracks would try 2^50,000 ways here. */
    @Test
    @Timeout(20)
    void anExpressionTakesATimeInProportionToTheText() throws Exception {
        assertThat(check(Response.of("a".repeat(50_000) + "b"), new Expectation.BodyMatches("^(a+)+$")))
                .isNotEmpty();
        assertThatThrownBy(() -> check(Response.of("aa"), new Expectation.BodyMatches("(a)\\1")))
                .isInstanceOf(UnreadableContent.class).hasMessageContaining("no regular expression");
    }

    @Test
    void expressionsThatCannotBeReadAreToldBeforeTheRun() {
        assertThatThrownBy(() -> check(Response.of(""), new Expectation.XmlValue("//[", Optional.empty())))
                .isInstanceOf(UnreadableContent.class).hasMessageContaining("no XPath 1.0");
        assertThatThrownBy(() -> check(Response.of(""), new Expectation.JsonSchema("s.json", "[")))
                .isInstanceOf(UnreadableContent.class).hasMessageContaining("s.json is no JSON Schema");
    }
}
