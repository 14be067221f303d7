package kadrem.load.drive.http;

import java.util.zip.CRC32C;

import io.netty.buffer.ByteBuf;
import kadrem.load.drive.Carrier;

/**
 * Looks into the answers of some calls that only read and whose path varies: whether they differ as what is asked for does. One in
 * {@value #EVERY} of a carrier's calls is looked into, so that the others cost nothing. Confined to a lane.
 */
final class AnswerSum {
    private static final int EVERY = 16;

    private final HttpExchange exchange;
    private final CRC32C sum = new CRC32C();
    private int calls;
    private boolean looks;
    private int asked;
    private boolean any;

    AnswerSum(HttpExchange exchange) {
        this.exchange = exchange;
    }

    /** A call begins whose values are known. */
    void begin() {
        looks = exchange.readsWhatVaries() && calls++ % EVERY == 0;
        if (looks) {
            asked = exchange.target().hashCode();
            sum.reset();
            any = false;
        }
    }

    /** Bytes of the body. */
    void add(ByteBuf in, int from, int length) {
        if (looks && length > 0) {
            any = true;
            sum.update(in.nioBuffer(from, length));
        }
    }

    /** The answer is good; one without a body tells nothing. */
    void tell(Carrier.Listener listener) {
        if (looks && any) {
            listener.lookedInto(asked, (int) sum.getValue());
        }
    }
}
