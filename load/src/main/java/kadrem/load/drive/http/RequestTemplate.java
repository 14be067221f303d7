package kadrem.load.drive.http;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.GZIPOutputStream;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufAllocator;
import io.netty.buffer.Unpooled;
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
import kadrem.load.drive.UnusableCall;

/**
 * A call compiled to pieces of bytes and slots for values (RFC 9112). A request without slots is one buffer, made once.
 * Values in the path and in forms are percent-encoded (RFC 3986, section 2.3), in JSON strings and XML text they are
 * escaped, elsewhere they stand as they are.
 */
final class RequestTemplate {
    private static final byte[] CONTENT_LENGTH = "Content-Length: ".getBytes(StandardCharsets.US_ASCII);
    private static final int CRLF = '\r' << 8 | '\n';

    private final List<Piece> head;
    private final List<Piece> body;
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
        head.add(Piece.text(call.method() + " " + address.basePath()));
        head.addAll(compiler.slots().pieces(call.path(), PercentEncoding::encode));
        firstHeader = head.size();
        head.add(Piece.text(" HTTP/1.1\r\nHost: " + address.authority() + "\r\n"));
        for (Call.Header header : call.headers()) {
            head.add(Piece.text(header.name() + ": "));
            head.addAll(compiler.slots().pieces(header.value(), RequestTemplate::singleLine));
            head.add(Piece.text("\r\n"));
        }
        if (wire.traced() > 0 && !has(call, "traceparent")) {
            head.add(TraceHeader.of(wire.traced()));
        }
        method = call.method();
        credentials.value().ifPresent(value -> {
            head.add(Piece.text(credentials.header() + ": "));
            head.add(new Piece.Changing(value, "(secret)"));
            head.add(Piece.text("\r\n"));
        });
        answersChallenges = credentials.digest().isPresent();
        if (!has(call, "content-type") && !call.body().contentType().isEmpty()) {
            head.add(Piece.text("Content-Type: " + call.body().contentType() + "\r\n"));
        }
        if (!wire.accepted().isEmpty() && !has(call, "accept-encoding")) {
            head.add(Piece.text("Accept-Encoding: " + String.join(", ", wire.accepted()) + "\r\n"));
        }
        sendsCookies = wire.cookies() && !has(call, "cookie");
        packs = wire.packs() && !body.isEmpty() && !has(call, "content-encoding");
        if (packs) {
            head.add(Piece.text("Content-Encoding: gzip\r\n"));
        }
        isConstant = !answersChallenges && !sendsCookies && head.stream().allMatch(Piece.Text.class::isInstance)
                && body.stream().allMatch(Piece.Text.class::isInstance);
        if (isConstant) {
            ByteBuf rendered = Unpooled.buffer();
            var none = new LoadStream(new Workload(List.of(), List.of()), 0, 0).newDraw();
            writeTo(rendered, new CallValues(none, 0), false);
            // direct memory of the JDK's, which lives as long as this template and is not counted
            ByteBuffer once = ByteBuffer.allocateDirect(rendered.readableBytes());
            rendered.readBytes(once);
            constant = Unpooled.unreleasableBuffer(Unpooled.wrappedBuffer(once.flip()));
        } else {
            constant = Unpooled.EMPTY_BUFFER;
        }
    }

    private static boolean has(Call call, String header) {
        return call.headers().stream().anyMatch(one -> one.name().equalsIgnoreCase(header));
    }

    /** A value must not end the header it stands in. */
    private static byte[] singleLine(String value) {
        return value.replaceAll("[\\r\\n\\x00]+", " ").getBytes(StandardCharsets.UTF_8);
    }

    /** The request for one user's values, to be released by the one who sends it. */
    ByteBuf render(ByteBufAllocator allocator, CallValues values) {
        if (isConstant) {
            return constant.duplicate();
        }
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
    ByteBuf render(ByteBufAllocator allocator, CallValues values, CallInHand.Redirect redirect) {
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
