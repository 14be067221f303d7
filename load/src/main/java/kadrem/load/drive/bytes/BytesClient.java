package kadrem.load.drive.bytes;

import java.io.IOException;
import java.io.InputStream;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;

import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Wire;
import kadrem.load.drive.AnswerRoom;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Failures;
import kadrem.load.drive.Template;
import kadrem.load.drive.TlsContext;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;

/** Bytes to one address. */
final class BytesClient implements Client<byte[]> {
    private static final int GOOD = 1;
    private static final int MAX_DATAGRAM = 65_535;

    private final DriverOrder order;
    private final List<Exchange> exchanges = new ArrayList<>();

    /** A call compiled. */
    private record Exchange(Template send, boolean hex, Ending ending) {
    }

    BytesClient(DriverOrder order) throws UnusableCall {
        this.order = order;
        for (Call call : order.workload().calls()) {
            Form form = call.form(BytesProtocol.ID)
                    .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked in bytes"));
            exchanges.add(new Exchange(Template.of(order.slots(), Body.Kind.TEXT, form.text("send")),
                    form.text("as").equals("hex"), Ending.of(form.text("until"))));
        }
    }

    @Override
    public byte[] ready(int call, CallValues values) {
        Exchange exchange = exchanges.get(call);
        String text = exchange.send().fill(values);
        return exchange.hex()
                ? HexFormat.of().parseHex(text.replaceAll("\\s", ""))
                : Ending.unescaped(text.getBytes(StandardCharsets.UTF_8));
    }

    @Override
    public String shown(int call, CallValues values) {
        return exchanges.get(call).send().shown(values);
    }

    @Override
    public UserConnection<byte[]> connect() throws CallFailure {
        try {
            return order.address().scheme().equals("udp") ? new Datagrams() : new Stream();
        } catch (UnusableCall cause) {
            throw new CallFailure(FailureKind.NO_CONNECTION, 0, String.valueOf(cause.getMessage()));
        } catch (IOException cause) {
            throw failure(cause, true);
        }
    }

    private static CallFailure failure(IOException cause, boolean connecting) {
        FailureKind kind = Failures.kindOf(cause, connecting);
        return new CallFailure(kind, 0, kind == FailureKind.REFUSED ? "" : String.valueOf(cause.getMessage()));
    }

    private static Answer answer(byte[] sent, byte[] buffer, int length, boolean keeps) {
        return new Answer(GOOD, sent.length, length, length + (length == 1 ? " byte" : " bytes"), "text/plain",
                keeps ? Arrays.copyOf(buffer, length) : new byte[0]);
    }

    @Override
    public String statusWord(int status) {
        return "";
    }

    @Override
    public void close() {
        // users close their connections
    }

    /** A connection of TCP. */
    private final class Stream implements UserConnection<byte[]> {
        private final Socket socket;
        private final InputStream in;
        private final AnswerRoom room = new AnswerRoom();
        private byte[] buffer = new byte[8192];
        private boolean broken;

        Stream() throws IOException, UnusableCall {
            var plain = new Socket();
            plain.setTcpNoDelay(true);
            plain.connect(new InetSocketAddress(order.address().host(), order.address().port()),
                    Math.toIntExact(order.timeout().toMillis()));
            socket = order.address().secure() ? secured(plain) : plain;
            in = socket.getInputStream();
        }

        private Socket secured(Socket plain) throws IOException, UnusableCall {
            TlsContext tls = TlsContext.of(order.access().tls(), Wire.USUAL, order.secrets().folder());
            var made = (SSLSocket) tls.shared().context().getSocketFactory().createSocket(plain,
                    order.address().host(), order.address().port(), true);
            if (order.access().tls().verify()) {
                SSLParameters parameters = made.getSSLParameters();
                parameters.setEndpointIdentificationAlgorithm("HTTPS");
                made.setSSLParameters(parameters);
            }
            made.startHandshake();
            return made;
        }

        @Override
        public Answer call(int call, byte[] ready, boolean keeps, Marks marks) throws CallFailure {
            Ending ending = exchanges.get(call).ending();
            int length = 0;
            try {
                socket.getOutputStream().write(ready);
                while (!ending.isWhole(buffer, length)) {
                    if (length == buffer.length) {
                        if (!room.take(length)) {
                            throw new CallFailure(FailureKind.MALFORMED, 0, AnswerRoom.objection());
                        }
                        buffer = Arrays.copyOf(buffer, 2 * length);
                    }
                    int read = in.read(buffer, length, buffer.length - length);
                    if (read < 0) {
                        broken = true;
                        if (ending instanceof Ending.AtClose) {
                            break;
                        }
                        throw new CallFailure(FailureKind.CLOSED, 0, "");
                    }
                    if (length == 0) {
                        marks.part();
                    }
                    length += read;
                }
                return answer(ready, buffer, length, keeps);
            } catch (IOException cause) {
                broken = true;
                throw failure(cause, false);
            } catch (CallFailure failure) {
                broken = true;
                throw failure;
            } finally {
                if (broken) {
                    room.release();
                }
            }
        }

        @Override
        public void cancel() {
            close();
        }

        @Override
        public boolean isUsable() {
            return !broken;
        }

        @Override
        public void close() {
            room.release();
            try {
                socket.close();
            } catch (IOException _) {
                // it is of no use any more
            }
        }
    }

    /** A socket of UDP. */
    private final class Datagrams implements UserConnection<byte[]> {
        private final DatagramSocket socket = new DatagramSocket();
        private final byte[] buffer = new byte[MAX_DATAGRAM];

        Datagrams() throws IOException {
            socket.connect(new InetSocketAddress(order.address().host(), order.address().port()));
        }

        @Override
        public Answer call(int call, byte[] ready, boolean keeps, Marks marks) throws CallFailure {
            try {
                socket.send(new DatagramPacket(ready, ready.length));
                var packet = new DatagramPacket(buffer, buffer.length);
                socket.receive(packet);
                return answer(ready, buffer, packet.getLength(), keeps);
            } catch (IOException cause) {
                throw failure(cause, false);
            }
        }

        @Override
        public void cancel() {
            socket.close();
        }

        @Override
        public boolean isUsable() {
            return !socket.isClosed();
        }

        @Override
        public void close() {
            socket.close();
        }
    }
}
