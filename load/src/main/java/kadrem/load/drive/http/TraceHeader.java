package kadrem.load.drive.http;

import java.nio.charset.StandardCharsets;
import java.util.HexFormat;

import io.netty.buffer.ByteBuf;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Piece;

/**
 * The header by which a share of the calls are found again in a tracing system: {@code traceparent: 00-TRACE-SPAN-01}, sampled. Which
 * calls carry it is fixed by the stream, the same for every candidate; their ids differ from run to run. Source: W3C: Trace Context,
 * Recommendation of 2021, section 3.2.
 *
 * @param share of the calls, from 0 to 1
 * @param salt of the run, by which its ids differ from those of others
 */
record TraceHeader(double share, long salt) implements Piece {
    private static final long CHOICE = 0x74726163656445L;
    private static final long HIGH = 0x7472616365484947L;
    private static final long SPAN = 0x7472616365535041L;
    private static final byte[] BEGIN = "traceparent: ".getBytes(StandardCharsets.US_ASCII);
    private static final byte[] END = "\r\n".getBytes(StandardCharsets.US_ASCII);
    private static final int LENGTH = BEGIN.length + 3 + 32 + 1 + 16 + 3 + END.length;
    private static final double UNIT = 0x1.0p-53;

    static TraceHeader of(double share) {
        return new TraceHeader(share, new java.security.SecureRandom().nextLong());
    }

    /** The value for a call, without the name; empty where it carries none. An id of nothing but zeros is not allowed. */
    String value(CallValues values) {
        HexFormat hex = HexFormat.of();
        return has(values)
                ? "00-" + hex.toHexDigits(values.draw().identity(HIGH ^ salt) | 1)
                        + hex.toHexDigits(values.draw().identity(salt)) + "-"
                        + hex.toHexDigits(values.draw().identity(SPAN ^ salt) | 1) + "-01"
                : "";
    }

    private boolean has(CallValues values) {
        return (values.draw().identity(CHOICE) >>> 11) * UNIT < share;
    }

    @Override
    public void writeTo(ByteBuf out, CallValues values) {
        if (!has(values)) {
            return;
        }
        out.writeBytes(BEGIN);
        out.writeCharSequence(value(values), StandardCharsets.US_ASCII);
        out.writeBytes(END);
    }

    @Override
    public int length(CallValues values) {
        return has(values) ? LENGTH : 0;
    }
}
