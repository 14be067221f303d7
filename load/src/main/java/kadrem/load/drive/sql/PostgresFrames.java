package kadrem.load.drive.sql;

import java.io.IOException;

/**
 * Follows the messages that a server of PostgreSQL sends, and refuses one that says it is longer than there is room for: the driver makes
 * room for what it says before it has come. Of what is encrypted nothing can be followed. Source: PostgreSQL 17, Frontend/Backend Protocol, 53.7.
 */
final class PostgresFrames {
    private static final int HEAD = 5;
    private static final int QUESTION = 8;
    /** SSLRequest and GSSENCRequest, which one byte answers. */
    private static final long TLS = 80_877_103;
    private static final long GSS = 80_877_104;

    private final long most;
    private boolean oneByte;
    private boolean encrypted;
    private long head;
    private int ofHead;
    private long left;

    /** @param most bytes of one message */
    PostgresFrames(long most) {
        this.most = most;
    }

    /** What the driver sends. */
    void sent(byte[] from, int offset, int length) {
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
                    head = 0;
                    ofHead = 0;
                    if (left < 0 || left > most) {
                        throw new CountedSockets.AnswerWithoutEnd();
                    }
                }
            }
        }
    }
}
