package kadrem.load.drive.sql;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.sql.Array;
import java.sql.Clob;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.Base64;
import java.util.Locale;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import kadrem.core.measure.FailureKind;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;
import org.jspecify.annotations.Nullable;

/**
 * Rows as JSON: an array of objects, whose members are called as the columns are. A name in nothing but capitals, as some
 * databases give them, is written in small letters. Dates and times are texts as ISO 8601 writes them, bytes are Base64.
 */
final class Rows {
    private static final JsonFactory JSON = new JsonFactory();

    private final int room;
    private final int fetch;
    private long count;

    /**
     * @param room most bytes that are made of all rows together
     * @param fetch rows that are fetched at a time; 0 for all of them
     */
    Rows(int room, int fetch) {
        this.room = room;
        this.fetch = fetch;
    }

    private boolean next(ResultSet rows, Client.Marks marks) throws SQLException {
        if (fetch > 0 && count % fetch == 0) {
            CountedSockets.ofThread().passed();
        }
        boolean found = rows.next();
        if (found && count++ == 0) {
            marks.part();
        }
        return found;
    }

    /** Rows read. */
    long count() {
        return count;
    }

    /** Reads all rows and makes nothing of them but their number. */
    void pass(ResultSet rows, Client.Marks marks) throws SQLException {
        while (next(rows, marks)) {
            // counted, and nothing else
        }
    }

    /** @throws CallFailure if there is no room for all of them */
    byte[] json(ResultSet rows, Client.Marks marks) throws SQLException, CallFailure {
        var out = new ByteArrayOutputStream();
        try (JsonGenerator json = JSON.createGenerator(out)) {
            ResultSetMetaData about = rows.getMetaData();
            var names = new String[about.getColumnCount()];
            for (int i = 0; i < names.length; i++) {
                String label = about.getColumnLabel(i + 1);
                names[i] = label.equals(label.toUpperCase(Locale.ROOT)) ? label.toLowerCase(Locale.ROOT) : label;
            }
            json.writeStartArray();
            while (next(rows, marks)) {
                json.writeStartObject();
                for (int i = 0; i < names.length; i++) {
                    json.writeFieldName(names[i]);
                    write(json, rows.getObject(i + 1));
                }
                json.writeEndObject();
                if (json.getOutputBuffered() + (long) out.size() > room) {
                    throw new CallFailure(FailureKind.MALFORMED, 0,
                            "the rows are too large to be looked into: more than " + (room >> 20) + " MiB as JSON");
                }
            }
            json.writeEndArray();
        } catch (IOException impossible) {
            throw new UncheckedIOException("memory can be written to", impossible);
        }
        return out.toByteArray();
    }

    private static void write(JsonGenerator json, @Nullable Object value) throws IOException, SQLException {
        switch (value) {
            case null -> json.writeNull();
            case Boolean flag -> json.writeBoolean(flag);
            case Float number -> json.writeNumber(number);
            case Double number -> json.writeNumber(number);
            case BigDecimal number -> json.writeNumber(number);
            case Number number -> json.writeNumber(number.toString());
            case byte[] bytes -> json.writeString(Base64.getEncoder().encodeToString(bytes));
            case Clob text -> json.writeString(text.getSubString(1, Math.toIntExact(text.length())));
            case java.sql.Timestamp time -> json.writeString(time.toLocalDateTime().toString());
            case Array array -> {
                json.writeStartArray();
                for (Object item : (Object[]) array.getArray()) {
                    write(json, item);
                }
                json.writeEndArray();
            }
            default -> json.writeString(value.toString());
        }
    }
}
