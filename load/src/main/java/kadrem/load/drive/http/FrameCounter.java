package kadrem.load.drive.http;

import io.netty.buffer.ByteBuf;
import io.netty.channel.ChannelDuplexHandler;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelPromise;
import io.netty.util.collection.IntObjectHashMap;

/**
 * Counts the bytes of each stream of a connection as they pass, heads and padding of their frames among them (RFC 9113, section 4.1: nine
 * bytes of head, the first three the length, the last four the stream). What belongs to no stream is not counted. Confined to a lane.
 */
final class FrameCounter extends ChannelDuplexHandler {
    private static final int HEAD = 9;
    /** The client's first bytes on a connection are no frame (RFC 9113, section 3.4). */
    private static final int PREFACE = 24;

    private final IntObjectHashMap<long[]> streams = new IntObjectHashMap<>();
    private final Direction out = new Direction(PREFACE, 0);
    private final Direction in = new Direction(0, 1);

    /** Takes the bytes sent on a stream since they were last taken. */
    int takeOut(int stream) {
        long[] counts = streams.get(stream);
        if (counts == null) {
            return 0;
        }
        long count = counts[0];
        counts[0] = 0;
        return (int) count;
    }

    /** The bytes received on a stream so far; it is then forgotten. */
    long endIn(int stream) {
        long[] counts = streams.remove(stream);
        return counts == null ? 0 : counts[1];
    }

    @Override
    public void channelRead(ChannelHandlerContext context, Object message) {
        if (message instanceof ByteBuf bytes) {
            in.pass(bytes);
        }
        context.fireChannelRead(message);
    }

    @Override
    public void write(ChannelHandlerContext context, Object message, ChannelPromise promise) {
        if (message instanceof ByteBuf bytes) {
            out.pass(bytes);
        }
        context.write(message, promise);
    }

    /** Bytes one way, wherever they are cut. */
    private final class Direction {
        private final int slot;
        private final byte[] head = new byte[HEAD];
        private int headLength;
        /** Bytes of the present frame, or of the preface, that are still to come. */
        private int left;

        Direction(int before, int slot) {
            this.slot = slot;
            left = before;
        }

        void pass(ByteBuf bytes) {
            int at = bytes.readerIndex();
            int end = bytes.writerIndex();
            while (at < end) {
                if (left > 0) {
                    int step = Math.min(left, end - at);
                    left -= step;
                    at += step;
                } else {
                    head[headLength++] = bytes.getByte(at++);
                    if (headLength == HEAD) {
                        frame();
                    }
                }
            }
        }

        private void frame() {
            headLength = 0;
            left = (head[0] & 0xff) << 16 | (head[1] & 0xff) << 8 | head[2] & 0xff;
            int stream = (head[5] & 0x7f) << 24 | (head[6] & 0xff) << 16 | (head[7] & 0xff) << 8 | head[8] & 0xff;
            if (stream != 0) {
                long[] counts = streams.get(stream);
                if (counts == null) {
                    counts = new long[2];
                    streams.put(stream, counts);
                }
                counts[slot] += HEAD + left;
            }
        }
    }
}
