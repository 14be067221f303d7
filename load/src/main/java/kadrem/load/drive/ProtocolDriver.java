package kadrem.load.drive;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.util.List;
import java.util.Map;

import kadrem.core.study.Protocol;

/** A protocol whose calls can be sent. A driver is registered by a line of META-INF/services/kadrem.core.study.Protocol. */
public interface ProtocolDriver extends Protocol {
    /**
     * Prepares calls for a candidate.
     *
     * @throws UnusableCall if a secret is missing or a call cannot be made ready; the message says which and why
     */
    Driver open(DriverOrder order) throws UnusableCall;

    /**
     * Sees whether the candidate can take load.
     *
     * @param ready what the study says to ask; empty for nothing in particular
     * @throws IOException if it cannot; the message says why
     * @throws UnusableCall if a secret is missing
     */
    default void probe(DriverOrder order, String ready) throws IOException, UnusableCall {
        try (var socket = new Socket()) {
            socket.connect(new InetSocketAddress(order.address().host(), order.address().port()),
                    Math.toIntExact(order.timeout().toMillis()));
        }
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
    default Map<String, String> fingerprint(DriverOrder order) throws IOException, UnusableCall {
        return Map.of();
    }
}
