package kadrem.load.drive.events;

import java.io.BufferedReader;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

import kadrem.load.drive.AnswerRoom;

/** Reads a stream of events. Source: HTML Living Standard, 9.2.6 "Interpreting an event stream". */
final class EventReader implements AutoCloseable {
    private static final char BYTE_ORDER_MARK = '\uFEFF';

    private final Bounded bounded;
    private final BufferedReader in;
    private boolean begun;
    private String lastId = "";

    EventReader(InputStream in) {
        bounded = new Bounded(in);
        this.in = new BufferedReader(new InputStreamReader(bounded, StandardCharsets.UTF_8));
    }

    /** Gives back the room that was taken. */
    @Override
    public void close() {
        bounded.room.release();
    }

    /** An event. */
    record Event(String type, String data, String id) {
    }

    /** The next event with data; empty at the end of the stream, where an event that is not ended by a blank line is dropped. */
    Optional<Event> next() throws IOException {
        var data = new StringBuilder();
        boolean hasData = false;
        String type = "";
        // lines end with LF, CRLF or CR, as a BufferedReader has it
        for (String line = in.readLine(); line != null; line = in.readLine()) {
            if (!begun) {
                begun = true;
                line = !line.isEmpty() && line.charAt(0) == BYTE_ORDER_MARK ? line.substring(1) : line;
            }
            if (line.isEmpty()) {
                if (hasData) {
                    data.setLength(data.length() - 1);
                    bounded.room.release();
                    return Optional.of(new Event(type.isEmpty() ? "message" : type, data.toString(), lastId));
                }
                type = "";
                bounded.room.release();
                continue;
            }
            int colon = line.indexOf(':');
            String field = colon < 0 ? line : line.substring(0, colon);
            String value = colon < 0 ? "" : line.substring(colon + 1);
            value = value.startsWith(" ") ? value.substring(1) : value;
            switch (field) {
                case "event" -> type = value;
                case "data" -> {
                    data.append(value).append('\n');
                    hasData = true;
                }
                case "id" -> lastId = value.indexOf('\0') < 0 ? value : lastId;
                default -> {
                    // comments, retry, and what nobody knows
                }
            }
        }
        return Optional.empty();
    }

    /** Room for the event that is being read; an event that does not end is an error. */
    private static final class Bounded extends FilterInputStream {
        /** A byte becomes a character of a line and one of the event's data. */
        private static final int BYTES_A_CHARACTER = 4;
        private final AnswerRoom room = new AnswerRoom();

        Bounded(InputStream in) {
            super(in);
        }

        @Override
        public int read() throws IOException {
            var one = new byte[1];
            return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
        }

        @Override
        public int read(byte[] into, int from, int most) throws IOException {
            int read = super.read(into, from, most);
            if (read > 0 && !room.take((long) BYTES_A_CHARACTER * read)) {
                throw new AnswerTooLarge();
            }
            return read;
        }
    }

    /** More came of an event than there is room for. */
    static final class AnswerTooLarge extends IOException {
        private static final long serialVersionUID = 1L;

        AnswerTooLarge() {
            super(AnswerRoom.objection());
        }
    }
}
