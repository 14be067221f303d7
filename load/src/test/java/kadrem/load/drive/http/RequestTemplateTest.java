package kadrem.load.drive.http;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.List;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import io.netty.buffer.UnpooledByteBufAllocator;
import kadrem.core.plan.LoadStream;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.StatusSet;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;

class RequestTemplateTest {
    private static final Address ADDRESS = new Address("127.0.0.1", 8080, "/api");

    private static String render(Call call, ValueList... lists) {
        var workload = new Workload(List.of(lists), List.of(new Visit("v", 1, List.of(call))));
        var stream = new LoadStream(workload, 1);
        LoadStream.Draw draw = stream.newDraw();
        stream.draw(0, 0, draw);
        ByteBuf request = new RequestTemplate(call, ADDRESS, List.of(lists)).render(UnpooledByteBufAllocator.DEFAULT,
                draw);
        return request.toString(StandardCharsets.UTF_8);
    }

    private static Call call(String method, String path, String body, Call.Header... headers) {
        return new Call("c", method, path, List.of(headers), body, StatusSet.ANY_SUCCESS);
    }

    @Test
    void aPlainCallIsAWholeRequest() {
        assertThat(render(call("GET", "/berths/7", "", new Call.Header("Accept", "*/*"))))
                .isEqualTo("GET /api/berths/7 HTTP/1.1\r\nHost: 127.0.0.1:8080\r\nAccept: */*\r\n\r\n");
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
    void numbersAreWrittenLikeJavaWritesThem() {
        for (long number : new long[]{0, 7, 10, 99, 100, -1, -987, 2_147_483_648L, 999_999_999_999_999_999L}) {
            ByteBuf out = Unpooled.buffer();
            RequestTemplate.writeNumber(out, number);
            assertThat(out.toString(StandardCharsets.US_ASCII)).isEqualTo(Long.toString(number));
        }
    }
}
