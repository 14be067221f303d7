package kadrem.load.drive.http;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.channels.SocketChannel;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.measure.FailureKind;
import kadrem.core.plan.LoadStream;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Http;
import kadrem.core.study.SignIn;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.NotReady;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerOrder;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.drive.Rehearser;
import kadrem.load.content.UnusableCall;

/** HTTP/1.1 and HTTP/2, in the clear and over TLS. */
public final class HttpProtocol extends Http implements ProtocolDriver {
    /**
     * The answer of a call beside the load.
     *
     * @param wire "HTTP/1.1" or "HTTP/2"
     * @param tls version and cipher; empty without TLS
     */
    public record Answer(int status, String server, String contentType, String body, String wire, String tls) {
        private static final int BEGINNING = 80;

        /** What came, to stand behind the status: its type and how it begins; empty where it has no body. */
        String beginning() {
            String text = body.strip().replaceAll("\\s+", " ");
            if (text.isEmpty()) {
                return "";
            }
            String shown = text.codePointCount(0, text.length()) <= BEGINNING
                    ? text
                    : text.substring(0, text.offsetByCodePoints(0, BEGINNING)) + "…";
            return " and " + (contentType.isEmpty() ? "a body without a type" : contentType.split(";", 2)[0].strip())
                    + ": " + shown;
        }

        public boolean isSuccess() {
            return status >= 200 && status < 300;
        }
    }

    @Override
    public Driver open(DriverOrder order) throws UnusableCall {
        return new HttpDriver(order);
    }

    @Override
    public Optional<Peer> peer(PeerOrder order) {
        return Optional.of(HttpPeer.of(order));
    }

    /** Only here is the answer of a rehearsal what goes over the wire. */
    @Override
    public boolean peerAnswersAsRehearsed() {
        return true;
    }

    @Override
    public String probed(Address address, Questions questions) {
        return address + questions.ready();
    }

    /** A call costs milliseconds of a processor, of which a candidate that starts has need; whether anything listens is cheap to see. */
    @Override
    public String probe(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        Optional<String> unixSocket = order.access().wire().socket();
        if (unixSocket.isPresent()) {
            try (SocketChannel channel = SocketChannel.open(StandardProtocolFamily.UNIX)) {
                channel.connect(UnixDomainSocketAddress.of(order.secrets().folder().resolve(unixSocket.get())));
            }
        } else {
            try (var socket = new Socket()) {
                socket.connect(new InetSocketAddress(order.address().host(), order.address().port()),
                        Math.toIntExact(order.timeout().toMillis()));
            }
        }
        Answer answer = call(order, "GET", questions.ready());
        if (!answer.isSuccess()) {
            throw new NotReady("it answered with status " + answer.status() + answer.beginning());
        }
        return Integer.toString(answer.status());
    }

    @Override
    public String ask(DriverOrder order, String words) throws IOException {
        throw new IOException("it speaks HTTP; give a path");
    }

    @Override
    public Map<String, String> fingerprint(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        Answer answer = call(order, "GET", questions.version().orElse(questions.ready()));
        var found = new LinkedHashMap<String, String>();
        found.put("protocol", answer.wire());
        if (!answer.tls().isEmpty()) {
            found.put("tls", answer.tls());
        }
        if (!answer.server().isEmpty()) {
            found.put("server", answer.server());
        }
        if (questions.version().isPresent() && answer.isSuccess()) {
            found.put("version", answer.body().strip());
        }
        return found;
    }

    /**
     * One call beside the load, by the client that makes the load, on a connection of its own and without the candidate's sign-in. Of a candidate
     * that speaks another protocol the path of its address belongs to that, and is no part of what is asked.
     */
    public static Answer call(DriverOrder order, String method, String path) throws IOException, UnusableCall {
        var workload = new Workload(List.of(),
                List.of(new Visit("control", 1, List.of(Call.of("control", method, path.isEmpty() ? "/" : path)))));
        Access access = order.access();
        Address address = order.address();
        Address http = address.protocol().equals(ID)
                ? address
                : new Address(address.host(), address.port(), "", address.secure());
        var asked = new DriverOrder(http,
                new Access(new SignIn.None(), access.tls(), access.wire()), workload, order.timeout(), order.secrets(),
                order.transport());
        try (Driver driver = new HttpDriver(asked); Rehearser rehearser = driver.newRehearser()) {
            var stream = new LoadStream(workload, 0, 0);
            LoadStream.Draw draw = stream.newDraw();
            stream.draw(0, 0, draw);
            RehearsedCall made = rehearser.call("control", 0, new CallValues(draw, 0));
            if (made.status() == 0) {
                throw new IOException(made.failure().map(FailureKind::id).orElse("no answer")
                        + (made.detail().isEmpty() ? "" : ": " + made.detail()));
            }
            return new Answer(made.status(), made.header("server"), made.header("content-type"),
                    new String(made.decoded().toArray(), StandardCharsets.UTF_8),
                    access.wire().protocol() == Wire.Protocol.HTTP_2 ? "HTTP/2" : "HTTP/1.1", rehearser.tls());
        }
    }
}
