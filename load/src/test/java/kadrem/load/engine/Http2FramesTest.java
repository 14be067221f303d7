package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.DataInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.Socket;
import java.net.StandardSocketOptions;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HexFormat;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Call;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * HTTP/2 frame by frame, against a server that writes its bytes by hand. Frames: RFC 9113, sections 4 and 6; packed heads: RFC 7541,
 * appendix A (88 is ":status: 200") and section 6.2.2 (00, length, name, length, value).
 */
class Http2FramesTest {
    private static final int CALLS = 8;
    private static final int PREFACE = 24;
    private static final Wire SHARED = Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, 4);
    private static final String SETTINGS = frame(4, 0, 0, "");

    /** A frame that the client sent. */
    private record Frame(int type, int flags, int stream, byte[] payload) {
        boolean endsStream() {
            return (type == 0 || type == 1) && (flags & 1) != 0;
        }

        String hex() {
            return HexFormat.of().formatHex(payload);
        }
    }

    private static String frame(int type, int flags, int stream, String payload) {
        return "%06x%02x%02x%08x%s".formatted(payload.length() / 2, type, flags, stream, payload);
    }

    private static Frame read(DataInputStream in) throws IOException {
        int length = in.readUnsignedByte() << 16 | in.readUnsignedShort();
        var frame = new Frame(in.readUnsignedByte(), in.readUnsignedByte(), in.readInt(), new byte[length]);
        in.readFully(frame.payload());
        return frame;
    }

    /** What the server does with a frame; what it returns is written. */
    private interface Script {
        String answer(Frame frame, Socket socket) throws IOException;
    }

    private static TestServer server(String greeting, Script script) throws IOException {
        return new TestServer((socket, first) -> serve(socket, first, greeting, script));
    }

    private static void serve(Socket socket, InputStream first, String greeting, Script script) throws IOException {
        var in = new DataInputStream(first);
        OutputStream out = socket.getOutputStream();
        try {
            in.readFully(new byte[PREFACE]);
            out.write(HexFormat.of().parseHex(greeting));
            while (true) {
                String answer = script.answer(read(in), socket);
                if (answer.equals("end")) {
                    return;
                }
                out.write(HexFormat.of().parseHex(answer));
            }
        } catch (EOFException _) {
            // the client has gone
        }
    }

    private static Load run(TestServer server, Workload workload, int calls) {
        return WireTest.run(server.port(), SHARED, workload, Load.arrivals(calls, 40, 4));
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
            // type and flags, then the payload; the stream is the request's
            "a head alone | 0105 88 | ",
            "a head and a body | 0104 88, 0001 6f6b | ",
            "padding | 010c 02880000, 0009 036f6b000000 | ",
            "a priority | 0125 000000000f88 | ",
            "a head in two parts | 0101 88, 0904 00036162630131 | ",
            "a hint before | 0104 0803313033, 0105 88 | ",
            "trailers | 0104 88, 0000 6f6b, 0105 00036162630131 | ",
            "the length told | 0104 885c0132, 0001 6f6b | ",
            "a frame of unknown kind | 7f00 00, 0105 88 | ",
            "another length than told | 0104 885c0133, 0001 6f6b | malformed",
            "a length that is no number | 0104 885c0178, 0001 6f6b | malformed",
            "a body before the head | 0001 6f6b | malformed",
            "two heads | 0104 88, 0104 88 | malformed",
            "capitals in a name | 0105 8800034142430131 | malformed",
            "no status | 0105 00036162630131 | malformed",
            "a status of four digits | 0105 080432303030 | malformed",
            "a hint that ends the stream | 0105 0803313033 | malformed",
            "a stream that is reset | 0300 00000007 | reset"})
    void anAnswerHasItsKindAndTheConnectionStays(String name, String frames, String kind) throws IOException {
        var connections = new AtomicInteger();
        try (TestServer server = server(SETTINGS, (frame, _) -> {
            if (frame.type() == 4 && frame.flags() == 0) {
                connections.incrementAndGet();
            }
            return frame.endsStream() ? frames(frames, frame.stream()) : "";
        })) {
            Load load = run(server, Load.one("/x"), CALLS);
            assertThat(kind == null ? load.figures.good() : load.failed(FailureKind.byId(kind)))
                    .as(name + ": " + load.exchanges).isEqualTo(CALLS);
            assertThat(connections.get()).as("connections").isEqualTo(1);
        }
    }

    private static String frames(String text, int stream) {
        var all = new StringBuilder();
        for (String one : text.split(",")) {
            String[] parts = one.strip().split(" ", 2);
            int kind = Integer.parseInt(parts[0], 16);
            all.append(frame(kind >> 8, kind & 0xff, stream, parts[1]));
        }
        return all.toString();
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
            "a stream that was never opened | 000002 00 01 0000ffff 6f6b | malformed",
            "a stream of the server's | 000001 01 05 00000002 88 | malformed",
            "a push | 000005 05 04 00000001 0000000288 | malformed",
            "a frame larger than agreed | 004001 00 01 00000001 00 | malformed",
            "a packed head that points nowhere | 000002 01 05 00000001 ffff | malformed",
            "more room than there is | 000004 08 00 00000000 7fffffff | malformed",
            "another protocol | 485454502f312e3120343030200d0a0d0a | malformed",
            "the server goes | 000008 07 00 00000000 0000000000000000 | closed",
            "the end | end | closed",
            "a reset | reset | reset"})
    void whatEndsAConnectionFailsItsCallsAndTheNextGoOverAnother(String name, String bytes, String kind)
            throws IOException {
        var connections = new AtomicInteger();
        try (TestServer server = server(SETTINGS, (frame, socket) -> {
            if (frame.type() == 4 && frame.flags() == 0) {
                connections.incrementAndGet();
            }
            if (!frame.endsStream()) {
                return "";
            }
            if (frame.stream() > 1 || connections.get() > 1) {
                return frame(1, 5, frame.stream(), "88");
            }
            if (bytes.equals("reset")) {
                socket.setOption(StandardSocketOptions.SO_LINGER, 0);
            }
            return bytes.equals("reset") ? "end" : bytes.replace(" ", "");
        })) {
            Load load = run(server, Load.one("/x"), CALLS);
            assertThat(load.failed(FailureKind.byId(kind))).as(name + ": " + load.exchanges)
                    .isGreaterThanOrEqualTo(1);
            assertThat(load.figures.good()).isPositive();
            assertThat(load.figures.good() + load.figures.failedTotal()).isEqualTo(CALLS);
            assertThat(connections.get()).as("connections").isEqualTo(2);
        }
    }

    @Test
    void pingsAndSettingsAreAnswered() throws IOException {
        List<Frame> seen = Collections.synchronizedList(new ArrayList<>());
        try (TestServer server = server(SETTINGS + frame(6, 0, 0, "0102030405060708"), (frame, _) -> {
            seen.add(frame);
            return frame.endsStream() ? frame(1, 5, frame.stream(), "88") : "";
        })) {
            assertThat(run(server, Load.one("/x"), CALLS).figures.good()).isEqualTo(CALLS);
        }
        assertThat(seen).anySatisfy(frame -> {
            assertThat(frame.type()).isEqualTo(6);
            assertThat(frame.flags()).isEqualTo(1);
            assertThat(frame.hex()).isEqualTo("0102030405060708");
        });
        assertThat(seen).anyMatch(frame -> frame.type() == 4 && frame.flags() == 1 && frame.payload().length == 0);
    }

    /** Bytes told as sent are those of the frames that the server read, and those told as received are those that it wrote. */
    @Test
    void theBytesToldAreThoseOnTheWire() throws IOException {
        var sent = new AtomicLong();
        var received = new AtomicLong();
        try (TestServer server = server(SETTINGS, (frame, _) -> {
            if (frame.stream() > 0) {
                sent.addAndGet(9 + frame.payload().length);
            }
            if (!frame.endsStream()) {
                return "";
            }
            String answer = frame(1, 12, frame.stream(), "0388000000") + frame(0, 1, frame.stream(), "6f6b");
            received.addAndGet(answer.length() / 2);
            return answer;
        })) {
            Load load = run(server, posting(7_000, ""), CALLS);
            assertThat(load.figures.good()).isEqualTo(CALLS);
            assertThat(load.figures.bytesOut()).isEqualTo(sent.get()).isGreaterThan(CALLS * 7_018);
            assertThat(load.figures.bytesIn()).isEqualTo(received.get());
        }
    }

    private static Workload posting(int bodyBytes, String header) {
        Call call = Call.of("post", "POST", "/x").withBody("x".repeat(bodyBytes))
                .withHeaders(header.isEmpty() ? List.of() : List.of(new Call.Header("X-Long", header)));
        return new Workload(List.of(), List.of(new Visit("v", 1, List.of(call))));
    }

    /**
     * The server gives little room, on each stream and on the connection, and lowers it in the middle: the client never sends more, and
     * every body arrives (RFC 9113, section 6.9).
     */
    @Test
    void aBodyWaitsForRoomAndArrivesWhole() throws IOException {
        int bodyBytes = 100_000;
        int first = 1_000;
        int later = 500;
        var most = new AtomicLong(Long.MIN_VALUE);
        var bodies = new AtomicLong();
        try (TestServer server = new TestServer((socket, in) -> {
            var room = new java.util.HashMap<Integer, Long>();
            var left = new java.util.HashMap<Integer, Integer>();
            long[] connection = {65_535};
            long[] firstRoom = {first};
            serve(socket, in, frame(4, 0, 0, "0004%08x".formatted(first)), (frame, _) -> {
                if (frame.type() == 1) {
                    room.put(frame.stream(), firstRoom[0]);
                    left.put(frame.stream(), bodyBytes);
                }
                if (frame.type() != 0) {
                    return "";
                }
                int length = frame.payload().length;
                connection[0] -= length;
                room.merge(frame.stream(), -(long) length, Long::sum);
                most.accumulateAndGet(-Math.min(connection[0], room.get(frame.stream())), Math::max);
                int rest = left.merge(frame.stream(), -length, Integer::sum);
                var answer = new StringBuilder();
                if (rest == bodyBytes - first) {
                    // streams opened so far lose what the new settings take; later ones begin with less
                    answer.append(frame(4, 0, 0, "0004%08x".formatted(later)));
                    room.replaceAll((_, one) -> one + later - firstRoom[0]);
                    firstRoom[0] = later;
                }
                if (frame.endsStream()) {
                    // a body that ends early or late is none
                    bodies.addAndGet(rest == 0 ? 1 : 1_000);
                    answer.append(frame(1, 5, frame.stream(), "88"));
                } else {
                    room.merge(frame.stream(), 7_000L, Long::sum);
                    answer.append(frame(8, 0, frame.stream(), "%08x".formatted(7_000)));
                }
                connection[0] += length;
                return answer + frame(8, 0, 0, "%08x".formatted(length));
            });
        })) {
            Load load = run(server, posting(bodyBytes, ""), CALLS);
            assertThat(load.figures.good()).as(load.exchanges.toString()).isEqualTo(CALLS);
            assertThat(bodies.get()).isEqualTo(CALLS);
            assertThat(most.get()).as("bytes beyond the room given").isLessThanOrEqualTo(0);
        }
    }

    /** An answer may end before the request has: the rest of it is not sent (RFC 9113, section 8.1). */
    @Test
    void anEarlyAnswerEndsTheCall() throws IOException {
        var resets = new AtomicInteger();
        try (TestServer server = server(SETTINGS, (frame, _) -> {
            resets.addAndGet(frame.type() == 3 ? 1 : 0);
            return frame.type() == 1 ? frame(1, 5, frame.stream(), "88") : "";
        })) {
            Load load = run(server, posting(60_000, ""), 1);
            assertThat(load.figures.good()).isEqualTo(1);
            // the whole connection's room is taken by the first; the second is answered while it waits
            assertThat(run(server, posting(100_000, ""), 1).figures.good()).isEqualTo(1);
            assertThat(resets.get()).isEqualTo(1);
        }
    }

    /** A head larger than a frame goes in several (RFC 9113, section 6.10). */
    @Test
    void aLargeHeadIsSplit() throws IOException {
        List<Frame> seen = Collections.synchronizedList(new ArrayList<>());
        try (TestServer server = server(SETTINGS, (frame, _) -> {
            if (frame.type() == 1 || frame.type() == 9) {
                seen.add(frame);
            }
            // its last part ends the head; the body follows
            return frame.type() == 0 ? frame(1, 5, frame.stream(), "88") : "";
        })) {
            assertThat(run(server, posting(5, "~".repeat(30_000)), 1).figures.good()).isEqualTo(1);
        }
        assertThat(seen).extracting(Frame::type).startsWith(1, 9).doesNotContain(0);
        assertThat(seen).extracting(frame -> frame.flags() & 4).endsWith(4);
        assertThat(seen.getFirst().flags() & 4).isZero();
        assertThat(seen.stream().mapToInt(frame -> frame.payload().length).max().orElseThrow())
                .isLessThanOrEqualTo(16_384);
    }
}
