package kadrem.load.drive.http;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.zip.GZIPOutputStream;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufAllocator;
import io.netty.buffer.Unpooled;
import io.netty.handler.codec.http2.DefaultHttp2Headers;
import io.netty.handler.codec.http2.Http2Headers;
import io.netty.util.AsciiString;
import kadrem.core.plan.LoadStream;
import kadrem.core.study.Address;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Piece;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.Slots;
import kadrem.load.content.UnusableCall;
import org.jspecify.annotations.Nullable;

/**
 * A call compiled to pieces of bytes and slots for values (RFC 9112); one file, since each piece of a request is compiled and written by
 * the same class. A request without slots is one buffer, made once. Values in the path and in forms are percent-encoded (RFC 3986, section
 * 2.3), in JSON strings and XML text they are escaped, elsewhere they stand as they are.
 */
final class RequestTemplate {
    private static final byte[] CONTENT_LENGTH = "Content-Length: ".getBytes(StandardCharsets.US_ASCII);
    private static final CallValues NO_VALUES = new CallValues(
            new LoadStream(new Workload(List.of(), List.of()), 0, 0).newDraw(), 0);
    private static final int CRLF = '\r' << 8 | '\n';

    /** Headers that belong to a connection of HTTP/1.1 (RFC 9113, section 8.2.2), and what has a field of its own. */
    private static final Set<String> OF_HTTP_1 = Set.of("host", "connection", "keep-alive", "proxy-connection",
            "transfer-encoding", "upgrade");
    private static final AsciiString AUTHORIZATION = AsciiString.cached("authorization");
    private static final AsciiString COOKIE = AsciiString.cached("cookie");
    private static final AsciiString CONTENT_LENGTH_2 = AsciiString.cached("content-length");

    /** The head as HTTP/1.1 writes it. */
    private final List<Piece> head;
    private final List<Piece> body;
    /** The head's fields as HTTP/2 writes them, and the target. */
    private final List<Field> fields = new ArrayList<>();
    private final List<Piece> path = new ArrayList<>();
    private final Field target;
    private final Optional<TraceHeader> trace;
    private final AsciiString scheme;
    private final AsciiString authority;
    private final AsciiString methodText;
    private final Optional<Http2Headers> constantHeaders;
    private final boolean sendsLength;
    private final ByteBuf constant;
    private final boolean isConstant;
    private final String method;
    /** Number of pieces of the head before the version: method and target. */
    private final int firstHeader;
    private final boolean answersChallenges;
    private final boolean sendsCookies;
    private final boolean packs;

    /** @throws UnusableCall if a secret of the call is missing */
    RequestTemplate(Call call, Address address, Workload workload, Credentials credentials, Secrets secrets, Wire wire)
            throws UnusableCall {
        var compiler = new Compiler(new Slots(workload, secrets));
        head = new ArrayList<>();
        body = compiler.body(call.body());
        sendsLength = !body.isEmpty() || call.method().matches("POST|PUT|PATCH");
        path.add(Piece.text(address.basePath()));
        path.addAll(compiler.slots().pieces(call.path(), PercentEncoding::encode));
        target = new Field("", path);
        scheme = AsciiString.cached(address.secure() ? "https" : "http");
        authority = AsciiString.cached(address.authority());
        methodText = AsciiString.cached(call.method());
        head.add(Piece.text(call.method() + " "));
        head.addAll(path);
        firstHeader = head.size();
        head.add(Piece.text(" HTTP/1.1\r\nHost: " + address.authority() + "\r\n"));
        for (Call.Header header : call.headers()) {
            header(header.name(), compiler.slots().pieces(header.value(), RequestTemplate::singleLine));
        }
        trace = wire.traced() > 0 && !has(call, "traceparent")
                ? Optional.of(TraceHeader.of(wire.traced()))
                : Optional.empty();
        trace.ifPresent(head::add);
        method = call.method();
        credentials.value().ifPresent(
                value -> header(credentials.header(), List.of(new Piece.Changing(value, "(secret)"))));
        answersChallenges = credentials.digest().isPresent();
        if (!has(call, "content-type") && !call.body().contentType().isEmpty()) {
            header("Content-Type", List.of(Piece.text(call.body().contentType())));
        }
        if (!wire.accepted().isEmpty() && !has(call, "accept-encoding")) {
            header("Accept-Encoding", List.of(Piece.text(String.join(", ", wire.accepted()))));
        }
        sendsCookies = wire.cookies() && !has(call, "cookie");
        packs = wire.packs() && !body.isEmpty() && !has(call, "content-encoding");
        if (packs) {
            header("Content-Encoding", List.of(Piece.text("gzip")));
        }
        isConstant = !answersChallenges && !sendsCookies && head.stream().allMatch(Piece.Text.class::isInstance)
                && body.stream().allMatch(Piece.Text.class::isInstance);
        if (isConstant) {
            ByteBuf rendered = Unpooled.buffer();
            writeTo(rendered, NO_VALUES, false);
            // direct memory of the JDK's, which lives as long as this template and is not counted
            ByteBuffer once = ByteBuffer.allocateDirect(rendered.readableBytes());
            rendered.readBytes(once);
            constant = Unpooled.unreleasableBuffer(Unpooled.wrappedBuffer(once.flip()));
        } else {
            constant = Unpooled.EMPTY_BUFFER;
        }
        constantHeaders = isConstant
                ? Optional.of(made(Unpooled.buffer(), NO_VALUES, null, packs
                        ? packed(NO_VALUES).length
                        : body.stream().mapToInt(one -> one.length(NO_VALUES)).sum()))
                : Optional.empty();
    }

    /** A field of the head, for either wire. */
    private void header(String name, List<Piece> value) {
        head.add(Piece.text(name + ": "));
        head.addAll(value);
        head.add(Piece.text("\r\n"));
        if (!OF_HTTP_1.contains(name.toLowerCase(Locale.ROOT))) {
            fields.add(new Field(name.toLowerCase(Locale.ROOT), value));
        }
    }

    /** A field of HTTP/2, whose name has small letters; its value is one text where it is always the same. */
    private static final class Field {
        private final AsciiString name;
        private final List<Piece> pieces;
        private final Optional<AsciiString> fixed;

        Field(String name, List<Piece> pieces) {
            this.name = AsciiString.cached(name);
            this.pieces = List.copyOf(pieces);
            fixed = pieces.stream().allMatch(Piece.Text.class::isInstance)
                    ? Optional.of(text(Unpooled.buffer(), NO_VALUES))
                    : Optional.empty();
        }

        AsciiString value(ByteBuf scratch, CallValues values) {
            return fixed.isPresent() ? fixed.get() : text(scratch, values);
        }

        private AsciiString text(ByteBuf scratch, CallValues values) {
            scratch.clear();
            write(pieces, scratch, values, false);
            int from = 0;
            int to = scratch.readableBytes();
            // white space around a value is none of it (RFC 9113, section 8.2.1)
            while (from < to && isSpace(scratch.getByte(from))) {
                from++;
            }
            while (to > from && isSpace(scratch.getByte(to - 1))) {
                to--;
            }
            return new AsciiString(scratch.array(), scratch.arrayOffset() + from, to - from, true);
        }

        private static boolean isSpace(byte b) {
            return b == ' ' || b == '\t';
        }
    }

    /**
     * The head of a request of HTTP/2.
     *
     * @param scratch where values are written before they are texts; on the heap
     * @param bodyBytes length of the body that follows
     */
    Http2Headers headers(ByteBuf scratch, CallValues values, HttpExchange.@Nullable Redirect redirect, int bodyBytes) {
        return constantHeaders.isPresent() && redirect == null
                ? constantHeaders.get()
                : made(scratch, values, redirect, bodyBytes);
    }

    private Http2Headers made(ByteBuf scratch, CallValues values, HttpExchange.@Nullable Redirect redirect,
            int bodyBytes) {
        var headers = new DefaultHttp2Headers(false, fields.size() + 8);
        CharSequence to = redirect == null ? target.value(scratch, values) : redirect.target();
        CharSequence how = redirect == null ? methodText : redirect.method();
        headers.method(how).scheme(scheme).authority(authority).path(to);
        for (int i = 0; i < fields.size(); i++) {
            headers.add(fields.get(i).name, fields.get(i).value(scratch, values));
        }
        if (trace.isPresent() && !trace.get().value(values).isEmpty()) {
            headers.add("traceparent", trace.get().value(values));
        }
        if (answersChallenges && UserState.of(values).digest().isPresent()) {
            headers.add(AUTHORIZATION,
                    UserState.of(values).digest().get().authorization(how.toString(), to.toString()));
        }
        if (sendsCookies) {
            String cookies = UserState.of(values).cookies(to.toString());
            if (!cookies.isEmpty()) {
                headers.add(COOKIE, cookies);
            }
        }
        if (sendsLength && (redirect == null || redirect.withBody())) {
            headers.add(CONTENT_LENGTH_2, Integer.toString(bodyBytes));
        }
        return headers;
    }

    /** The body for one user's values, to be released by the one who sends it; empty where there is none. */
    ByteBuf body(ByteBufAllocator allocator, CallValues values) {
        if (body.isEmpty()) {
            return Unpooled.EMPTY_BUFFER;
        }
        if (packs) {
            return Unpooled.wrappedBuffer(packed(values));
        }
        ByteBuf out = allocator.directBuffer(256);
        write(body, out, values, false);
        return out;
    }

    private static boolean has(Call call, String header) {
        return call.headers().stream().anyMatch(one -> one.name().equalsIgnoreCase(header));
    }

    /** A value must not end the header it stands in. */
    private static byte[] singleLine(String value) {
        return value.replaceAll("[\\r\\n\\x00]+", " ").getBytes(StandardCharsets.UTF_8);
    }

    /** A view of the request for one carrier, where it is always the same: it is sent again and again, and never released. */
    Optional<ByteBuf> view() {
        return isConstant ? Optional.of(constant.duplicate()) : Optional.empty();
    }

    /** The request for one user's values, to be released by the one who sends it. */
    ByteBuf render(ByteBufAllocator allocator, CallValues values) {
        ByteBuf out = allocator.directBuffer(512);
        writeTo(out, values, false);
        return out;
    }

    /** The request as text with its secrets replaced, cut to a bound. */
    String shown(CallValues values, int mostBytes) {
        ByteBuf out = Unpooled.buffer();
        writeTo(out, values, true);
        return out.toString(0, Math.min(mostBytes, out.readableBytes()), StandardCharsets.UTF_8);
    }

    /** The request for one user's values on its way along a redirect, to be released by the one who sends it. */
    ByteBuf render(ByteBufAllocator allocator, CallValues values, HttpExchange.Redirect redirect) {
        ByteBuf out = allocator.directBuffer(512);
        out.writeCharSequence(redirect.method() + " " + redirect.target(), StandardCharsets.US_ASCII);
        write(head.subList(firstHeader, head.size()), out, values, false);
        writeRest(out, values, false, redirect.method(), redirect.target(), redirect.withBody());
        return out;
    }

    private void writeTo(ByteBuf out, CallValues values, boolean masked) {
        write(head, out, values, masked);
        writeRest(out, values, masked, method, answersChallenges || sendsCookies ? target(values) : "", true);
    }

    private void writeRest(ByteBuf out, CallValues values, boolean masked, String usedMethod, String target,
            boolean withBody) {
        if (answersChallenges && UserState.of(values).digest().isPresent()) {
            out.writeCharSequence("Authorization: " + (masked
                    ? "(secret)"
                    : UserState.of(values).digest().get().authorization(usedMethod, target)) + "\r\n",
                    StandardCharsets.UTF_8);
        }
        if (sendsCookies) {
            String cookies = UserState.of(values).cookies(target);
            if (!cookies.isEmpty()) {
                out.writeCharSequence("Cookie: " + (masked ? "(secret)" : cookies) + "\r\n", StandardCharsets.UTF_8);
            }
        }
        if (!withBody || !sendsLength) {
            out.writeShort(CRLF);
            return;
        }
        if (packs && !masked) {
            byte[] packed = packed(values);
            out.writeBytes(CONTENT_LENGTH);
            Piece.writeNumber(out, packed.length);
            out.writeInt(CRLF << 16 | CRLF);
            out.writeBytes(packed);
            return;
        }
        int length = 0;
        for (int i = 0; i < body.size(); i++) {
            length += body.get(i).length(values);
        }
        out.writeBytes(CONTENT_LENGTH);
        Piece.writeNumber(out, length);
        out.writeInt(CRLF << 16 | CRLF);
        write(body, out, values, masked);
    }

    private byte[] packed(CallValues values) {
        ByteBuf plain = Unpooled.buffer();
        write(body, plain, values, false);
        var packed = new ByteArrayOutputStream();
        try (var gzip = new GZIPOutputStream(packed)) {
            plain.readBytes(gzip, plain.readableBytes());
        } catch (IOException impossible) {
            throw new UncheckedIOException("memory can be written to", impossible);
        }
        return packed.toByteArray();
    }

    /** The request target as this request has it. */
    String target(CallValues values) {
        ByteBuf out = Unpooled.buffer();
        write(head.subList(0, firstHeader), out, values, false);
        String line = out.toString(StandardCharsets.UTF_8);
        return line.substring(method.length() + 1);
    }

    private static void write(List<Piece> pieces, ByteBuf out, CallValues values, boolean masked) {
        for (int i = 0; i < pieces.size(); i++) {
            if (masked && pieces.get(i) instanceof Piece.Secret secret) {
                out.writeCharSequence(secret.shown(), StandardCharsets.UTF_8);
            } else if (masked && pieces.get(i) instanceof Piece.Changing changing) {
                out.writeCharSequence(changing.shown(), StandardCharsets.UTF_8);
            } else {
                pieces.get(i).writeTo(out, values);
            }
        }
    }

    /** From templates to pieces. */
    private record Compiler(Slots slots) {

        List<Piece> body(Body content) throws UnusableCall {
            return switch (content) {
                case Body.Text(Body.Kind kind, String template) -> slots.text(kind, template);
                case Body.Form(List<Body.Field> fields) -> form(fields);
                case Body.FromFile file -> List.of(new Piece.Text(file.content().toArray()));
                case Body.Multipart(List<Body.Part> parts) -> multipart(parts);
            };
        }

        private List<Piece> form(List<Body.Field> fields) throws UnusableCall {
            var pieces = new ArrayList<Piece>();
            for (Body.Field field : fields) {
                pieces.add(Piece.text((pieces.isEmpty() ? "" : "&")
                        + new String(PercentEncoding.encode(field.name()), StandardCharsets.US_ASCII) + "="));
                List<String> parts = Call.split(field.value());
                for (int i = 0; i < parts.size(); i++) {
                    pieces.add(i % 2 == 1
                            ? slots.slot(parts.get(i), PercentEncoding::encode)
                            : new Piece.Text(PercentEncoding.encode(parts.get(i))));
                }
            }
            return List.copyOf(pieces);
        }

        private List<Piece> multipart(List<Body.Part> parts) throws UnusableCall {
            var pieces = new ArrayList<Piece>();
            for (Body.Part part : parts) {
                String quoted = part.name().replace("\"", "%22");
                String file = part.content() instanceof Body.FromFile from
                        ? "; filename=\"" + from.file().replaceFirst(".*/", "").replace("\"", "%22") + "\""
                        : "";
                String type = part.content() instanceof Body.FromFile
                        ? "Content-Type: " + part.content().contentType() + "\r\n"
                        : "";
                pieces.add(Piece.text("--" + Body.Multipart.BOUNDARY + "\r\nContent-Disposition: form-data; name=\""
                        + quoted + "\"" + file + "\r\n" + type + "\r\n"));
                pieces.addAll(body(part.content()));
                pieces.add(Piece.text("\r\n"));
            }
            pieces.add(Piece.text("--" + Body.Multipart.BOUNDARY + "--\r\n"));
            return List.copyOf(pieces);
        }
    }
}
