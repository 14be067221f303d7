package kadrem.load.drive.events;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/** Reads a stream of events. Source: HTML Living Standard, 9.2.6 "Interpreting an event stream". */
final class EventReader {
    private static final char BYTE_ORDER_MARK = '\uFEFF';

    private final BufferedReader in;
    private boolean begun;
    private String lastId = "";

    EventReader(InputStream in) {
        this.in = new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8));
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
                    return Optional.of(new Event(type.isEmpty() ? "message" : type, data.toString(), lastId));
                }
                type = "";
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
}
