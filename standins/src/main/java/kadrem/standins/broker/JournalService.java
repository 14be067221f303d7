package kadrem.standins.broker;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.net.Socket;
import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.util.concurrent.CountDownLatch;

import org.apache.kafka.common.errors.ApiException;
import org.apache.kafka.common.protocol.ApiKeys;
import org.apache.kafka.common.protocol.ApiMessage;
import org.apache.kafka.common.protocol.ByteBufferAccessor;
import org.apache.kafka.common.protocol.Errors;
import org.apache.kafka.common.requests.AbstractRequest;
import org.apache.kafka.common.requests.RequestHeader;
import org.apache.kafka.common.requests.RequestUtils;

/**
 * A log of records that speaks Kafka's protocol on 127.0.0.1: producers, consumers that choose their partitions, and the requests
 * that tell of topics and offsets. It keeps everything in memory, and has neither consumer groups nor transactions. Messages are
 * read and written by the classes of Kafka's own client, which knows both directions.
 */
public final class JournalService implements AutoCloseable {
    private static final int MAX_REQUEST = 64 << 20;
    private static final String HOST = "127.0.0.1";

    private final Clients clients;
    private final JournalAnswers answers;

    private JournalService(int port) throws IOException {
        clients = new Clients(port);
        answers = new JournalAnswers(new JournalTopics(), HOST, clients.port());
        clients.each("journal", this::talk);
    }

    /** @param port 0 for any free one */
    public static JournalService on(int port) throws IOException {
        return new JournalService(port);
    }

    public int port() {
        return clients.port();
    }

    /** Requests of a client are answered one after the other, in their order. */
    private void talk(Socket client) throws IOException {
        try (var in = new DataInputStream(new BufferedInputStream(client.getInputStream()));
                var out = new DataOutputStream(new BufferedOutputStream(client.getOutputStream()))) {
            while (true) {
                int size = in.readInt();
                if (size < 0 || size > MAX_REQUEST) {
                    return;
                }
                ByteBuffer answer = answer(ByteBuffer.wrap(in.readNBytes(size)));
                if (answer.hasRemaining()) {
                    out.writeInt(answer.remaining());
                    out.write(answer.array(), answer.arrayOffset() + answer.position(), answer.remaining());
                    out.flush();
                }
            }
        } catch (ApiException | IllegalArgumentException | BufferUnderflowException _) {
            // it speaks something else
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }

    /** @return empty where there is none to be sent */
    private ByteBuffer answer(ByteBuffer request) throws InterruptedException {
        RequestHeader header = RequestHeader.parse(request);
        if (!JournalAnswers.isSpoken(header)) {
            if (header.apiKey() != ApiKeys.API_VERSIONS) {
                throw new IllegalArgumentException("not spoken: " + header.apiKey() + " " + header.apiVersion());
            }
            // by the protocol, a version that is not known is answered in the first
            return RequestUtils.serialize(header.toResponseHeader().data(), (short) 0,
                    JournalAnswers.versions(Errors.UNSUPPORTED_VERSION), (short) 0);
        }
        ApiMessage asked = AbstractRequest.parseRequest(header.apiKey(), header.apiVersion(),
                new ByteBufferAccessor(request)).request.data();
        ApiMessage answer = answers.to(header, asked);
        return answer == null
                ? ByteBuffer.allocate(0)
                : RequestUtils.serialize(header.toResponseHeader().data(),
                        header.apiKey().responseHeaderVersion(header.apiVersion()), answer, header.apiVersion());
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        System.out.println("journal answers on kafka://" + HOST + ":" + port());
        new CountDownLatch(1).await();
    }

    @Override
    public void close() throws IOException {
        clients.close();
    }
}
