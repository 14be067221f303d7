package kadrem.load.drive.http;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.util.List;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import kadrem.load.drive.http.ResponseScanner.Progress;
import kadrem.load.drive.AnswerRoom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class ResponseScannerTest {
    /** The example of RFC 9112, section 7.1.3 in spirit: chunks with an extension, and a trailer. */
    private static final String CHUNKED = "HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n"
            + "5;name=value\r\nhello\r\n6\r\n world\r\n0\r\nExpires: never\r\n\r\n";
    private static final String COUNTED = "HTTP/1.1 201 Created\r\ncontent-length: 5\r\nDate: x\r\n\r\nhello";

    private static ByteBuf bytes(String text) {
        return Unpooled.copiedBuffer(text, StandardCharsets.ISO_8859_1);
    }

    private static ResponseScanner scanner() {
        var scanner = new ResponseScanner();
        scanner.expect(false, null);
        return scanner;
    }

    private static Progress whole(String text) {
        return scanner().feed(bytes(text));
    }

    @ParameterizedTest
    @ValueSource(strings = {CHUNKED, COUNTED, "HTTP/1.1 204 No Content\r\n\r\n",
            "HTTP/1.1 103 Early Hints\r\nLink: x\r\n\r\nHTTP/1.1 200 OK\r\nContent-Length: 0\r\n\r\n",
            "HTTP/1.1 200\r\nContent-Length: 2\r\n\r\nok", "HTTP/1.1 200 OK\nContent-Length: 2\n\nok"})
    void findsTheEndWhereverTheBytesAreCut(String text) {
        assertThat(whole(text)).isEqualTo(Progress.WHOLE);
        for (int cut = 1; cut < text.length(); cut++) {
            ResponseScanner scanner = scanner();
            assertThat(scanner.feed(bytes(text.substring(0, cut)))).as("cut at %d", cut).isEqualTo(Progress.MORE);
            assertThat(scanner.feed(bytes(text.substring(cut)))).as("cut at %d", cut).isEqualTo(Progress.WHOLE);
        }
        ResponseScanner slow = scanner();
        for (int i = 0; i < text.length() - 1; i++) {
            assertThat(slow.feed(bytes(text.substring(i, i + 1)))).isEqualTo(Progress.MORE);
        }
        assertThat(slow.feed(bytes(text.substring(text.length() - 1)))).isEqualTo(Progress.WHOLE);
    }

    private static ResponseScanner keeping(KeptBody body) {
        var scanner = new ResponseScanner();
        scanner.expect(false, body);
        return scanner;
    }

    @Test
    void aBodyIsKeptWithoutItsFramingWhereverItIsCut() {
        for (int cut = 0; cut <= CHUNKED.length(); cut++) {
            var body = new KeptBody();
            ResponseScanner scanner = keeping(body);
            scanner.feed(bytes(CHUNKED.substring(0, cut)));
            scanner.feed(bytes(CHUNKED.substring(cut)));
            assertThat(body.text(100)).as("cut at %d", cut).isEqualTo("hello world");
        }
        var counted = new KeptBody();
        ResponseScanner scanner = keeping(counted);
        scanner.feed(bytes(COUNTED));
        assertThat(counted.text(100)).isEqualTo("hello");
        scanner.expect(false, counted);
        assertThat(counted.length()).as("each answer begins with an empty body").isZero();
    }

    @Test
    void headersAreFoundInAnyCaseOfLetters() {
        ResponseScanner scanner = scanner();
        scanner.feed(bytes("HTTP/1.1 200 OK\r\nSet-Cookie: a=1\r\nset-COOKIE:b=2 \r\nX-Empty:\r\n"
                + "Content-Length: 0\r\n\r\n"));
        assertThat(scanner.headers("SET-cookie")).containsExactly("a=1", "b=2");
        assertThat(scanner.headers("x-empty")).containsExactly("");
        assertThat(scanner.headers("cookie")).as("not the end of another name").isEmpty();
        assertThat(scanner.head()).startsWith("HTTP/1.1 200 OK\r\n").endsWith("\r\n\r\n");
        scanner.expect(false, null);
        assertThat(scanner.headers("Set-Cookie")).as("none of the answer before").isEmpty();
    }

    @Test
    void aBodyThatIsTooLargeIsCountedAndNotKept() {
        var body = new KeptBody();
        ResponseScanner scanner = keeping(body);
        int length = Math.toIntExact(AnswerRoom.MAX_OF_ONE) + 1;
        scanner.feed(bytes("HTTP/1.1 200 OK\r\nContent-Length: " + length + "\r\n\r\n"));
        var chunk = new byte[1024 * 1024];
        Progress progress = Progress.MORE;
        for (int left = length; left > 0; left -= chunk.length) {
            progress = scanner.feed(Unpooled.wrappedBuffer(chunk, 0, Math.min(left, chunk.length)));
        }
        assertThat(progress).isEqualTo(Progress.WHOLE);
        assertThatThrownBy(body::whole).hasMessageContaining("too large to be looked into");
        assertThat((long) body.length()).isLessThanOrEqualTo(AnswerRoom.MAX_OF_ONE);
        scanner.expect(false, body);
        assertThat(body.length()).isZero();
    }

    @ParameterizedTest
    @ValueSource(strings = {"SSH-2.0-server\r\n", "HTTP/2 200 OK\r\n\r\n", "HTTP/1.1 2x0 OK\r\n\r\n",
            "HTTP/1.1 200 OK\r\nContent-Length: five\r\n\r\n",
            "HTTP/1.1 200 OK\r\nContent-Length: 5\r\nContent-Length: 6\r\n\r\n",
            "HTTP/1.1 200 OK\r\nno colon here\r\n\r\n",
            "HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\nzz\r\n",
            "HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n2\r\nokx",
            "HTTP/1.1 101 Switching Protocols\r\n\r\n"})
    void callsWhatIsNoResponseMalformed(String text) {
        assertThat(whole(text)).isEqualTo(Progress.MALFORMED);
    }

    @Test
    void whatFollowsAWholeResponseIsLeft() {
        ResponseScanner scanner = scanner();
        ByteBuf two = bytes("HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nokHTTP/1.1 404");
        assertThat(scanner.feed(two)).isEqualTo(Progress.WHOLE);
        assertThat(two.toString(StandardCharsets.US_ASCII)).isEqualTo("HTTP/1.1 404");
    }

    @Test
    void refusesAHeadWithoutEnd() {
        ResponseScanner scanner = scanner();
        assertThat(scanner.feed(bytes("HTTP/1.1 200 OK\r\n"))).isEqualTo(Progress.MORE);
        Progress last = Progress.MORE;
        for (int i = 0; i < 100 && last == Progress.MORE; i++) {
            last = scanner.feed(bytes("X: " + "y".repeat(1000) + "\r\n"));
        }
        assertThat(last).isEqualTo(Progress.MALFORMED);
    }

    @Test
    void tellsWhetherTheConnectionLives() {
        for (String close : List.of("HTTP/1.1 200 OK\r\nConnection: close\r\nContent-Length: 0\r\n\r\n",
                "HTTP/1.0 200 OK\r\nContent-Length: 0\r\n\r\n")) {
            ResponseScanner scanner = scanner();
            assertThat(scanner.feed(bytes(close))).isEqualTo(Progress.WHOLE);
            assertThat(scanner.keepsConnection()).isFalse();
        }
        ResponseScanner keeps = scanner();
        keeps.feed(bytes(COUNTED));
        assertThat(keeps.keepsConnection()).isTrue();
        assertThat(keeps.status()).isEqualTo(201);
    }

    @Test
    void aBodyWithoutLengthEndsWithTheConnection() {
        ResponseScanner scanner = scanner();
        assertThat(scanner.feed(bytes("HTTP/1.1 200 OK\r\n\r\nsome"))).isEqualTo(Progress.MORE);
        assertThat(scanner.endsWithConnection()).isTrue();
    }

    @Test
    void theAnswerToHeadHasNoBody() {
        var scanner = new ResponseScanner();
        scanner.expect(true, null);
        assertThat(scanner.feed(bytes("HTTP/1.1 200 OK\r\nContent-Length: 500\r\n\r\n"))).isEqualTo(Progress.WHOLE);
    }
}
