package kadrem.load.drive;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Address;
import kadrem.core.study.Candidate;
import kadrem.core.study.Protocol;
import kadrem.load.content.UnusableCall;

/** A protocol whose calls can be sent. A driver is registered by a line of META-INF/services/kadrem.core.study.Protocol. */
public interface ProtocolDriver extends Protocol {
    /**
     * Prepares calls for a candidate.
     *
     * @throws UnusableCall if a secret is missing or a call cannot be made ready; the message says which and why
     */
    Driver open(DriverOrder order) throws UnusableCall;

    /**
     * Starts something of Kadrem's own that answers the calls; empty where there is none that could, as for a database whose driver speaks
     * its own language.
     */
    default Optional<Peer> peer(PeerOrder order) {
        return Optional.empty();
    }

    /** Whether calls are made by threads that wait for their answers, and not by the lanes themselves. */
    default boolean waitsOnThreads() {
        return false;
    }

    /** Whether the peer gives the answers of a rehearsal, and not the shortest that there are. */
    default boolean peerAnswersAsRehearsed() {
        return false;
    }

    /**
     * What a study says to ask a candidate beside the load.
     *
     * @param ready what tells whether it is ready; empty for nothing in particular
     * @param version what tells its version
     */
    record Questions(String ready, Optional<String> version) {
        /** Nothing in particular. */
        public static final Questions NONE = new Questions("", Optional.empty());

        public static Questions of(Candidate candidate) {
            return new Questions(candidate.ready(), candidate.version());
        }
    }

    /** What {@link #probe} asks, in words. */
    default String probed(Address address, Questions questions) {
        return address.toString();
    }

    /**
     * Sees whether the candidate can take load.
     *
     * @return what it answered, in a word; empty where there is nothing to say
     * @throws NotReady if it answers that it cannot
     * @throws IOException if it does not answer; the message says why
     * @throws UnusableCall if a secret is missing
     */
    default String probe(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        try (var socket = new Socket()) {
            socket.connect(new InetSocketAddress(order.address().host(), order.address().port()),
                    Math.toIntExact(order.timeout().toMillis()));
        }
        return "";
    }

    /**
     * What a field of a call may be, asked of a candidate that is up.
     *
     * @throws UnusableCall if it cannot be asked; the message says why
     */
    default List<Offer> offers(DriverOrder order, String field) throws UnusableCall {
        return List.of();
    }

    /**
     * Says something to a candidate that is not of the load, such as a statement that empties a table, and gives its answer as text.
     *
     * @throws IOException if the candidate refuses, or nothing can be said in this protocol
     * @throws UnusableCall if a secret is missing
     */
    default String ask(DriverOrder order, String words) throws IOException, UnusableCall {
        throw new IOException("nothing can be asked beside the load over " + words());
    }

    /** What a candidate tells about itself, by the name of the attribute: its server's product and version, its settings. */
    default Map<String, String> fingerprint(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        return Map.of();
    }
}
