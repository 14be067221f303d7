package kadrem.load.drive.http;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufAllocator;
import io.netty.buffer.Unpooled;
import kadrem.core.plan.LoadStream;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.ValueList;
import kadrem.core.study.Workload;

/**
 * A call compiled to pieces of bytes and slots for values (RFC 9112). A request without slots is one buffer, made once.
 * Values in the path are percent-encoded (RFC 3986, section 2.3), in headers and body they stand as they are.
 */
final class RequestTemplate {
    private final List<Piece> head;
    private final List<Piece> body;
    private final boolean sendsLength;
    private final ByteBuf constant;
    private final boolean isConstant;

    RequestTemplate(Call call, Address address, List<ValueList> lists) {
        head = new ArrayList<>();
        body = pieces(call.body(), lists, false);
        sendsLength = !call.body().isEmpty() || call.method().matches("POST|PUT|PATCH");
        head.add(Piece.text(call.method() + " " + address.basePath()));
        head.addAll(pieces(call.path(), lists, true));
        head.add(Piece.text(" HTTP/1.1\r\nHost: " + address.authority() + "\r\n"));
        for (Call.Header header : call.headers()) {
            head.add(Piece.text(header.name() + ": "));
            head.addAll(pieces(header.value(), lists, false));
            head.add(Piece.text("\r\n"));
        }
        boolean typed = call.headers().stream()
                .anyMatch(header -> header.name().toLowerCase(Locale.ROOT).equals("content-type"));
        if (!call.body().isEmpty() && !typed) {
            String first = call.body().stripLeading();
            head.add(Piece.text(first.startsWith("{") || first.startsWith("[")
                    ? "Content-Type: application/json\r\n"
                    : "Content-Type: text/plain; charset=utf-8\r\n"));
        }
        isConstant = head.stream().allMatch(Piece.Text.class::isInstance)
                && body.stream().allMatch(Piece.Text.class::isInstance);
        if (isConstant) {
            ByteBuf rendered = Unpooled.buffer();
            writeTo(rendered, new LoadStream(new Workload(List.of(), List.of()), 0).newDraw());
            // direct memory of the JDK's, which lives as long as this template and is not counted
            ByteBuffer once = ByteBuffer.allocateDirect(rendered.readableBytes());
            rendered.readBytes(once);
            constant = Unpooled.unreleasableBuffer(Unpooled.wrappedBuffer(once.flip()));
        } else {
            constant = Unpooled.EMPTY_BUFFER;
        }
    }

    /** The request for one draw, to be released by the one who sends it. */
    ByteBuf render(ByteBufAllocator allocator, LoadStream.Draw draw) {
        if (isConstant) {
            return constant.duplicate();
        }
        ByteBuf out = allocator.directBuffer(512);
        writeTo(out, draw);
        return out;
    }

    private void writeTo(ByteBuf out, LoadStream.Draw draw) {
        for (int i = 0; i < head.size(); i++) {
            head.get(i).writeTo(out, draw);
        }
        if (sendsLength) {
            int length = 0;
            for (int i = 0; i < body.size(); i++) {
                length += body.get(i).length(draw);
            }
            out.writeBytes(CONTENT_LENGTH);
            writeNumber(out, length);
            out.writeShort(CRLF);
        }
        out.writeShort(CRLF);
        for (int i = 0; i < body.size(); i++) {
            body.get(i).writeTo(out, draw);
        }
    }

    private static final byte[] CONTENT_LENGTH = "Content-Length: ".getBytes(StandardCharsets.US_ASCII);
    private static final int CRLF = '\r' << 8 | '\n';

    private static List<Piece> pieces(String template, List<ValueList> lists, boolean encode) {
        var pieces = new ArrayList<Piece>();
        List<String> parts = Call.split(template);
        for (int i = 0; i < parts.size(); i++) {
            if (i % 2 == 0) {
                if (!parts.get(i).isEmpty()) {
                    pieces.add(Piece.text(parts.get(i)));
                }
                continue;
            }
            for (int list = 0; list < lists.size(); list++) {
                if (lists.get(list).name().equals(parts.get(i))) {
                    pieces.add(Piece.slot(lists.get(list), list, encode));
                }
            }
        }
        return List.copyOf(pieces);
    }

    static void writeNumber(ByteBuf out, long number) {
        if (number < 0) {
            out.writeByte('-');
            number = -number;
        }
        long unit = 1;
        while (number / unit >= 10) {
            unit *= 10;
        }
        for (; unit > 0; unit /= 10) {
            out.writeByte((byte) ('0' + number / unit % 10));
        }
    }

    private static int digits(long number) {
        int digits = number < 0 ? 2 : 1;
        for (long rest = Math.abs(number); rest >= 10; rest /= 10) {
            digits++;
        }
        return digits;
    }

    /** Constant bytes, or the place of a value. */
    private sealed interface Piece {
        void writeTo(ByteBuf out, LoadStream.Draw draw);

        int length(LoadStream.Draw draw);

        static Piece text(String text) {
            return new Text(text.getBytes(StandardCharsets.UTF_8));
        }

        static Piece slot(ValueList list, int number, boolean encode) {
            return switch (list) {
                case ValueList.NumberRange range -> new NumberSlot(number, range.from());
                case ValueList.Listed listed -> new ListSlot(number, listed.rows().stream()
                        .map(row -> encode ? PercentEncoding.encode(row) : row.getBytes(StandardCharsets.UTF_8))
                        .toArray(byte[][]::new));
            };
        }

        record Text(byte[] bytes) implements Piece {
            @Override
            public void writeTo(ByteBuf out, LoadStream.Draw draw) {
                out.writeBytes(bytes);
            }

            @Override
            public int length(LoadStream.Draw draw) {
                return bytes.length;
            }
        }

        record NumberSlot(int list, long from) implements Piece {
            @Override
            public void writeTo(ByteBuf out, LoadStream.Draw draw) {
                writeNumber(out, from + draw.row(list));
            }

            @Override
            public int length(LoadStream.Draw draw) {
                return digits(from + draw.row(list));
            }
        }

        record ListSlot(int list, byte[][] rows) implements Piece {
            @Override
            public void writeTo(ByteBuf out, LoadStream.Draw draw) {
                out.writeBytes(rows[(int) draw.row(list)]);
            }

            @Override
            public int length(LoadStream.Draw draw) {
                return rows[(int) draw.row(list)].length;
            }
        }
    }
}
