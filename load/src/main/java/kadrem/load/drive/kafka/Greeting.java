package kadrem.load.drive.kafka;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.ByteBuffer;

import kadrem.load.drive.DriverOrder;
import org.apache.kafka.common.protocol.ApiKeys;
import org.apache.kafka.common.requests.ApiVersionsRequest;
import org.apache.kafka.common.requests.RequestHeader;

/**
 * Sees that a broker answers before Kafka's own client is let at it: that takes the first four bytes of whatever answers for a length, and
 * makes room for so much.
 */
final class Greeting {
    /** Far more than a broker has to say of its versions. */
    private static final int MAX_BYTES = 1 << 20;
    private static final short OLDEST = 0;

    private Greeting() {
    }

    /** @throws IOException if nobody listens, or what answers is no broker */
    static void expect(DriverOrder order) throws IOException {
        int limit = Math.toIntExact(order.timeout().toMillis());
        try (var socket = new Socket()) {
            socket.connect(new InetSocketAddress(order.address().host(), order.address().port()), limit);
            if (order.address().secure()) {
                // whoever is no broker fails at the handshake
                return;
            }
            socket.setSoTimeout(limit);
            ByteBuffer request = new ApiVersionsRequest.Builder().build(OLDEST)
                    .serializeWithHeader(new RequestHeader(ApiKeys.API_VERSIONS, OLDEST, "kadrem", 1));
            var bytes = new byte[request.remaining()];
            request.get(bytes);
            var out = new DataOutputStream(socket.getOutputStream());
            out.writeInt(bytes.length);
            out.write(bytes);
            int length = new DataInputStream(socket.getInputStream()).readInt();
            if (length <= 0 || length > MAX_BYTES) {
                throw new IOException("what answers at " + order.address() + " is no broker of Kafka's protocol");
            }
        }
    }
}
