package kadrem.load.drive.sql;

import java.io.IOException;

/**
 * Follows the messages that a server of PostgreSQL sends. Refused is one that says it is longer than there is room for, since the driver makes
 * room for what it says before it has come; and an answer with too much beside its rows, such as warnings, of which the driver makes far more
 * than their bytes. An answer is what comes between two messages of the driver. Of what is encrypted nothing can be followed. Source: PostgreSQL 17, Frontend/Backend Protocol, 53.7.
 */
final class PostgresFrames {
    private static final int HEAD = 5;
    private static final int QUESTION = 8;
    private static final int ROW = 'D';
    private static final int NOTICE = 'N';
    private static final int MAX_NOTICES = 1_000;
    /** The columns of the widest table have fewer: 1,664 with names of 63 bytes (PostgreSQL 17, appendix K). */
    private static final long MAX_BESIDE_ROWS = 512L << 10;
    /** SSLRequest and GSSENCRequest, which one byte answers. */
    private static final long TLS = 80_877_103;
    private static final long GSS = 80_877_104;

    private final long most;
    private boolean oneByte;
    private boolean encrypted;
    private long head;
    private int ofHead;
    private long left;
    private int notices;
    private long besideRows;

    /** @param most bytes of one message */
    PostgresFrames(long most) {
        this.most = most;
    }

    /** What the driver sends. */
    void sent(byte[] from, int offset, int length) {
        notices = 0;
        besideRows = 0;
        if (length == QUESTION && number(from, offset, 4) == QUESTION) {
            long code = number(from, offset + 4, 4);
            oneByte |= code == TLS || code == GSS;
        }
    }

    private static long number(byte[] from, int offset, int length) {
        long number = 0;
        for (int i = 0; i < length; i++) {
            number = number << 8 | from[offset + i] & 0xff;
        }
        return number;
    }

    /** What the server sends, before the driver sees it. @throws IOException if there is no room for what it announces */
    void received(byte[] from, int offset, int length) throws IOException {
        int at = offset;
        int end = offset + length;
        if (at < end && oneByte) {
            encrypted = from[at] == 'S' || from[at] == 'G';
            oneByte = false;
            at++;
        }
        while (at < end && !encrypted) {
            if (left > 0) {
                long step = Math.min(left, end - at);
                left -= step;
                at += Math.toIntExact(step);
            } else {
                head = head << 8 | from[at++] & 0xff;
                if (++ofHead == HEAD) {
                    // the length counts itself, and not the byte that tells the kind
                    left = (head & 0xffff_ffffL) - 4;
                    int kind = (int) (head >> 32 & 0xff);
                    head = 0;
                    ofHead = 0;
                    besideRows += kind == ROW ? 0 : HEAD + left;
                    notices += kind == NOTICE ? 1 : 0;
                    if (left < 0 || left > most || besideRows > MAX_BESIDE_ROWS || notices > MAX_NOTICES) {
                        throw new CountedSockets.AnswerWithoutEnd();
                    }
                }
            }
        }
    }
}
