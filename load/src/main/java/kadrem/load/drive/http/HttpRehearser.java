package kadrem.load.drive.http;

import java.io.IOException;
import java.net.ConnectException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketException;
import java.net.SocketTimeoutException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import javax.net.ssl.SSLException;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufUtil;
import io.netty.buffer.Unpooled;
import io.netty.buffer.UnpooledByteBufAllocator;
import io.netty.handler.ssl.JdkSslContext;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Timeline;
import kadrem.core.study.Address;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.load.content.Decoding;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.ResponseView;
import kadrem.load.content.UnreadableContent;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Rehearser;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.TlsContext;
import org.jspecify.annotations.Nullable;

/** One keep-alive connection on a blocking socket, with a clock at each step. One thread at a time. */
final class HttpRehearser implements Rehearser {
    private static final int MOST_TEXT = 256 * 1024;

    private final Address address;
    private final Optional<TlsContext> tls;
    private final RequestTemplate[] templates;
    private final Credentials credentials;
    private final Call[] calls;
    private final ResponseCheck[] checks;
    private final Secrets secrets;
    private final long usualTimeoutMillis;
    private final boolean verifiesName;
    private final ResponseScanner scanner = new ResponseScanner();
    private final ByteBuf body = Unpooled.buffer();
    private @Nullable Socket socket;

    HttpRehearser(HttpParts parts, Optional<TlsContext> tls, ResponseCheck[] checks, long usualTimeoutMillis,
            boolean verifiesName) {
        this.verifiesName = verifiesName;
        this.tls = tls;
        this.checks = checks;
        this.usualTimeoutMillis = usualTimeoutMillis;
        address = parts.address();
        templates = parts.templates();
        credentials = parts.credentials();
        calls = parts.calls();
        secrets = parts.secrets();
    }

    /** The clock readings of one exchange. */
    private static final class Clock {
        private long resolve;
        private long connect;
        private long tls;
        private long sending;
        private long waiting;
        private long receiving;
        private long last = System.nanoTime();

        private long lap() {
            long now = System.nanoTime();
            long lap = now - last;
            last = now;
            return lap;
        }

        Timeline timeline() {
            return new Timeline(resolve, connect, tls, sending, waiting, receiving);
        }
    }

    @Override
    public RehearsedCall call(String visit, int number, CallValues values) {
        Call call = calls[number];
        String shown = templates[number].shown(values, MOST_TEXT);
        var clock = new Clock();
        scanner.expect(call.method().equals("HEAD"), body);
        long bytesIn = 0;
        Optional<FailureKind> failure = Optional.empty();
        String detail = "";
        try {
            int timeout = Math.toIntExact(Math.clamp(
                    call.timeout().map(java.time.Duration::toMillis).orElse(usualTimeoutMillis), 1, 600_000));
            boolean kept = socket != null;
            Socket open = connection(clock, timeout);
            try {
                send(open, number, values);
                clock.sending = clock.lap();
                bytesIn = receive(open, clock);
            } catch (UnansweredException | SocketException cause) {
                if (!kept || cause instanceof ConnectException) {
                    throw cause;
                }
                // the server had closed the kept connection meanwhile (RFC 9112, section 9.5)
                disconnect();
                open = connection(clock, timeout);
                scanner.expect(call.method().equals("HEAD"), body);
                send(open, number, values);
                clock.sending = clock.lap();
                bytesIn = receive(open, clock);
            }
            if (scanner.status() == 401 && meetsChallenge(values)) {
                shown = templates[number].shown(values, MOST_TEXT);
                if (!scanner.keepsConnection()) {
                    disconnect();
                    open = connection(clock, timeout);
                }
                scanner.expect(call.method().equals("HEAD"), body);
                send(open, number, values);
                clock.sending += clock.lap();
                bytesIn = receive(open, clock);
            }
        } catch (SocketTimeoutException _) {
            failure = Optional.of(FailureKind.TIMEOUT);
        } catch (ConnectException cause) {
            failure = Optional.of(String.valueOf(cause.getMessage()).contains("refused")
                    ? FailureKind.REFUSED
                    : FailureKind.NO_CONNECTION);
            detail = String.valueOf(cause.getMessage());
        } catch (SSLException cause) {
            failure = Optional.of(FailureKind.TLS);
            detail = String.valueOf(cause.getMessage());
        } catch (MalformedException _) {
            failure = Optional.of(FailureKind.MALFORMED);
        } catch (ClosedException _) {
            failure = Optional.of(FailureKind.CLOSED);
        } catch (SocketException cause) {
            failure = Optional.of(FailureKind.RESET);
            detail = String.valueOf(cause.getMessage());
        } catch (IOException cause) {
            failure = Optional.of(FailureKind.NO_CONNECTION);
            detail = String.valueOf(cause.getMessage());
        }
        if (failure.isPresent() || !scanner.keepsConnection()) {
            disconnect();
        }
        return told(visit, call, shown, clock, bytesIn, failure, detail, number, values);
    }

    private RehearsedCall told(String visit, Call call, String shown, Clock clock, long bytesIn,
            Optional<FailureKind> broken, String why, int number, CallValues values) {
        byte[] raw = ByteBufUtil.getBytes(body);
        byte[] decoded = raw;
        Optional<FailureKind> failure = broken;
        String detail = why;
        List<String> codings = scanner.headers("Content-Encoding");
        try {
            decoded = Decoding.decode(raw, codings.isEmpty() ? "" : codings.getFirst());
        } catch (UnreadableContent cause) {
            detail = detail.isEmpty() ? String.valueOf(cause.getMessage()) : detail;
        }
        if (failure.isEmpty() && !call.expected().status().contains(scanner.status())) {
            failure = Optional.of(FailureKind.UNEXPECTED_STATUS);
            detail = "status " + scanner.status() + ", and not " + call.expected().status();
        } else if (failure.isEmpty()) {
            String wrong = checks[number].check(new View(raw), values.captured());
            failure = wrong.isEmpty() ? failure : Optional.of(FailureKind.FAILED_EXPECTATION);
            detail = wrong.isEmpty() ? detail : wrong;
        }
        long within = call.expected().within().map(java.time.Duration::toNanos).orElse(Long.MAX_VALUE);
        if (failure.isEmpty() && clock.timeline().total() > within) {
            failure = Optional.of(FailureKind.FAILED_EXPECTATION);
            detail = "it took " + clock.timeline().total() / 1_000_000 + " ms, and should take at most "
                    + within / 1_000_000 + " ms";
        }
        return new RehearsedCall(visit, call.name(), shown, scanner.status(), headers(), bytesIn, Bytes.of(raw),
                Bytes.of(decoded), ResponseCheck.sha256(decoded), clock.timeline(), failure, secrets.mask(detail));
    }

    private boolean meetsChallenge(CallValues values) {
        Optional<DigestAnswer> answer = credentials.digest()
                .flatMap(pair -> pair.answer(scanner.headers("WWW-Authenticate"), "rehearsal"));
        answer.ifPresent(UserState.of(values)::keep);
        return answer.isPresent();
    }

    private List<Call.Header> headers() {
        var headers = new ArrayList<Call.Header>();
        String[] lines = scanner.head().split("\r?\n");
        for (int i = 1; i < lines.length; i++) {
            int colon = lines[i].indexOf(':');
            if (colon > 0) {
                headers.add(new Call.Header(lines[i].substring(0, colon),
                        secrets.mask(lines[i].substring(colon + 1).strip())));
            }
        }
        return headers;
    }

    private Socket connection(Clock clock, int timeoutMillis) throws IOException {
        Socket open = socket;
        if (open == null) {
            open = new Socket();
            socket = open;
            InetAddress host = InetAddress.getByName(address.host());
            clock.resolve = clock.lap();
            open.setTcpNoDelay(true);
            open.connect(new InetSocketAddress(host, address.port()), timeoutMillis);
            clock.connect = clock.lap();
            if (tls.isPresent()) {
                open = handshake(tls.get().shared(), open);
                socket = open;
                clock.tls = clock.lap();
            }
        }
        open.setSoTimeout(timeoutMillis);
        return open;
    }

    private Socket handshake(JdkSslContext context, Socket plain) throws IOException {
        var secure = (SSLSocket) context.context().getSocketFactory().createSocket(plain, address.host(),
                address.port(), true);
        SSLParameters parameters = secure.getSSLParameters();
        parameters.setProtocols(new String[]{"TLSv1.3", "TLSv1.2"});
        if (verifiesName) {
            parameters.setEndpointIdentificationAlgorithm("HTTPS");
        }
        secure.setSSLParameters(parameters);
        secure.startHandshake();
        return secure;
    }

    private void send(Socket open, int number, CallValues values) throws IOException {
        ByteBuf request = templates[number].render(UnpooledByteBufAllocator.DEFAULT, values);
        try {
            byte[] bytes = ByteBufUtil.getBytes(request);
            open.getOutputStream().write(bytes);
            open.getOutputStream().flush();
        } finally {
            request.release();
        }
    }

    private long receive(Socket open, Clock clock) throws IOException {
        var chunk = new byte[16 * 1024];
        long total = 0;
        while (true) {
            int read = open.getInputStream().read(chunk);
            if (total == 0) {
                clock.waiting = clock.lap();
            }
            if (read < 0) {
                if (scanner.endsWithConnection()) {
                    clock.receiving = clock.lap();
                    return total;
                }
                throw total == 0 ? new UnansweredException() : new ClosedException();
            }
            total += read;
            ByteBuf received = Unpooled.wrappedBuffer(chunk, 0, read);
            switch (scanner.feed(received)) {
                case WHOLE -> {
                    if (received.isReadable()) {
                        // more than was asked for
                        throw new MalformedException();
                    }
                    clock.receiving = clock.lap();
                    return total;
                }
                case MALFORMED -> throw new MalformedException();
                case MORE -> {
                    // the rest is awaited
                }
            }
        }
    }

    private void disconnect() {
        Socket open = socket;
        socket = null;
        if (open != null) {
            try {
                open.close();
            } catch (IOException _) {
                // it is gone either way
            }
        }
    }

    @Override
    public void close() {
        disconnect();
    }

    private static final class MalformedException extends IOException {
        private static final long serialVersionUID = 1L;
    }

    private static class ClosedException extends IOException {
        private static final long serialVersionUID = 1L;
    }

    /** The connection ended before the first byte of an answer. */
    private static final class UnansweredException extends ClosedException {
        private static final long serialVersionUID = 1L;
    }

    /** The response that has just come. */
    private final class View implements ResponseView {
        private final byte[] raw;

        View(byte[] raw) {
            this.raw = raw;
        }

        @Override
        public List<String> headers(String name) {
            return scanner.headers(name);
        }

        @Override
        public byte[] body() throws UnreadableContent {
            if (scanner.bodyTooLarge()) {
                throw new UnreadableContent("the body is larger than "
                        + ResponseScanner.MOST_KEPT_BODY / 1024 / 1024 + " MiB, too large to be looked into");
            }
            return raw;
        }
    }
}
