package kadrem.core.study;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.StringJoiner;

/**
 * How calls travel to a candidate.
 *
 * @param reuse how long a connection is used
 * @param depth calls that share a connection at the same time: pipelined with HTTP/1.1, as streams with HTTP/2
 * @param resumption whether TLS sessions are resumed by later connections
 * @param accepted codings that answers may have, as the header Accept-Encoding names them; empty for no such header
 * @param packs whether bodies of requests are compressed with gzip
 * @param redirects most redirects that are followed within one call; with 0 a redirect is an answer like any other
 * @param cookies whether each user keeps the cookies that it is given
 * @param socket path of a Unix socket that is used instead of host and port
 * @param traced share of the calls that carry a trace id (W3C Trace Context, header traceparent), from 0 to 1
 */
public record Wire(Protocol protocol, Reuse reuse, int depth, boolean resumption, List<String> accepted, boolean packs,
        int redirects, boolean cookies, Optional<String> socket, double traced) {
    /** HTTP/1.1 over kept connections, one call at a time, nothing compressed, followed or kept. */
    public static final Wire USUAL = new Wire(Protocol.HTTP_1, Reuse.KEEP, 1, true, List.of(), false, 0, false,
            Optional.empty(), 0);

    public Wire {
        accepted = List.copyOf(accepted);
    }

    /** The protocol spoken. */
    public enum Protocol {
        HTTP_1("http/1.1"),
        /** By ALPN over TLS, by prior knowledge without it. */
        HTTP_2("http/2");

        private final String id;

        Protocol(String id) {
            this.id = id;
        }

        /** The word used in files. */
        public String id() {
            return id;
        }

        public static Optional<Protocol> byId(String id) {
            return Arrays.stream(values()).filter(one -> one.id.equals(id)).findFirst();
        }
    }

    /** How long a connection is used. */
    public enum Reuse {
        KEEP("keep"), PER_VISIT("per-visit"), PER_CALL("per-call");

        private final String id;

        Reuse(String id) {
            this.id = id;
        }

        /** The word used in files. */
        public String id() {
            return id;
        }

        public static Optional<Reuse> byId(String id) {
            return Arrays.stream(values()).filter(one -> one.id.equals(id)).findFirst();
        }
    }

    public Wire withProtocol(Protocol other, int calls) {
        return new Wire(other, reuse, calls, resumption, accepted, packs, redirects, cookies, socket, traced);
    }

    public Wire withReuse(Reuse other) {
        return new Wire(protocol, other, depth, resumption, accepted, packs, redirects, cookies, socket, traced);
    }

    public Wire withResumption(boolean resumed) {
        return new Wire(protocol, reuse, depth, resumed, accepted, packs, redirects, cookies, socket, traced);
    }

    public Wire withRedirects(int most) {
        return new Wire(protocol, reuse, depth, resumption, accepted, packs, most, cookies, socket, traced);
    }

    public Wire withCookies() {
        return new Wire(protocol, reuse, depth, resumption, accepted, packs, redirects, true, socket, traced);
    }

    public Wire withTraced(double share) {
        return new Wire(protocol, reuse, depth, resumption, accepted, packs, redirects, cookies, socket, share);
    }

    public Wire withSocket(String path) {
        return new Wire(protocol, reuse, depth, resumption, accepted, packs, redirects, cookies, Optional.of(path),
                traced);
    }

    /** The same over host and port, where a Unix socket is used. */
    public Wire overPort() {
        return new Wire(protocol, reuse, depth, resumption, accepted, packs, redirects, cookies, Optional.empty(),
                traced);
    }

    /** What differs from the usual, in words; empty where nothing does. */
    public String words() {
        var words = new StringJoiner(", ");
        if (protocol != Protocol.HTTP_1) {
            words.add(protocol.id());
        }
        if (reuse != Reuse.KEEP) {
            words.add("connections " + reuse.id());
        }
        if (depth > 1) {
            words.add(depth + (protocol == Protocol.HTTP_1 ? " pipelined" : " streams"));
        }
        if (!resumption) {
            words.add("no resumption");
        }
        if (!accepted.isEmpty()) {
            words.add("accepts " + String.join(" ", accepted));
        }
        if (packs) {
            words.add("packs requests");
        }
        if (redirects > 0) {
            words.add("follows " + redirects + " redirects");
        }
        if (cookies) {
            words.add("keeps cookies");
        }
        socket.ifPresent(path -> words.add("socket " + path));
        if (traced > 0) {
            words.add("traces " + Written.significant(traced * 100) + " % of the calls");
        }
        return words.toString();
    }
}
