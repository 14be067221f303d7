package kadrem.load.drive.http;

import java.nio.charset.StandardCharsets;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufUtil;
import io.netty.buffer.Unpooled;
import kadrem.load.content.UnreadableContent;
import kadrem.load.drive.AnswerRoom;

/** The body of an answer that is to be looked into; one for which there is no room is counted and not kept. Confined to a lane. */
final class KeptBody {
    /** So much stays ready for the next answer: usual bodies make no garbage, and a thousand connections hold 256 MiB at most. */
    private static final int STAYS = 256 << 10;

    private final AnswerRoom room = new AnswerRoom();
    private ByteBuf bytes = Unpooled.buffer(0);
    private boolean tooLarge;

    /** Makes ready for another body. */
    void clear() {
        if (bytes.capacity() > STAYS) {
            bytes = Unpooled.buffer(0);
        }
        bytes.clear();
        tooLarge = false;
        room.release();
    }

    /** The next bytes of the body: {@code length} of them from {@code index} on, whose reader index stays. */
    void add(ByteBuf in, int index, int length) {
        if (!tooLarge && room.take(length)) {
            bytes.writeBytes(in, index, length);
        } else {
            tooLarge = true;
        }
    }

    int length() {
        return bytes.readableBytes();
    }

    /** The whole body. */
    byte[] whole() throws UnreadableContent {
        if (tooLarge) {
            throw new UnreadableContent("the body is too large to be looked into: " + AnswerRoom.bounds());
        }
        return soFar();
    }

    /** What there is of it. */
    byte[] soFar() {
        return ByteBufUtil.getBytes(bytes);
    }

    /** Its beginning. */
    String text(int mostBytes) {
        return bytes.toString(bytes.readerIndex(), Math.min(bytes.readableBytes(), mostBytes), StandardCharsets.UTF_8);
    }
}
