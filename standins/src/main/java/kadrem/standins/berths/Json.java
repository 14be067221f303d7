package kadrem.standins.berths;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.Locale;
import java.util.Optional;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;

/** The board's answers and questions as JSON, the same bytes for the same state whoever answers. */
final class Json {
    private static final JsonFactory FACTORY = new JsonFactory();

    private Json() {
    }

    private interface Body {
        void write(JsonGenerator out) throws IOException;
    }

    private static byte[] write(Body body) {
        var bytes = new ByteArrayOutputStream(1024);
        try (JsonGenerator out = FACTORY.createGenerator(bytes)) {
            out.writeStartObject();
            body.write(out);
            out.writeEndObject();
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
        return bytes.toByteArray();
    }

    static byte[] single(String name, String value) {
        return write(out -> out.writeStringField(name, value));
    }

    static byte[] day(Board.DayView view) {
        return write(out -> {
            out.writeStringField("day", date(view.day()));
            out.writeNumberField("free", view.freeCount());
            out.writeNumberField("taken", view.takenCount());
            out.writeArrayFieldStart("berths");
            for (Berth berth : view.free()) {
                out.writeStartObject();
                fields(out, berth);
                out.writeEndObject();
            }
            out.writeEndArray();
        });
    }

    static byte[] berth(Board.BerthView view) {
        return write(out -> {
            fields(out, view.berth());
            out.writeArrayFieldStart("reservations");
            for (Reservation reservation : view.reservations()) {
                out.writeStartObject();
                fields(out, reservation);
                out.writeEndObject();
            }
            out.writeEndArray();
        });
    }

    static byte[] reservation(Reservation reservation) {
        return write(out -> fields(out, reservation));
    }

    static byte[] tides(String station, int day, Tides.Height[] heights) {
        return write(out -> {
            out.writeStringField("station", station);
            out.writeStringField("day", date(day));
            out.writeArrayFieldStart("heights");
            for (Tides.Height height : heights) {
                out.writeStartObject();
                out.writeStringField("time", time(height));
                out.writeNumberField("metres", metres(height));
                out.writeEndObject();
            }
            out.writeEndArray();
        });
    }

    static String time(Tides.Height height) {
        return String.format(Locale.ROOT, "%02d:%02d", height.minute() / 60, height.minute() % 60);
    }

    static double metres(Tides.Height height) {
        return Math.round(height.metres() * 1000) / 1000.0;
    }

    private static void fields(JsonGenerator out, Berth berth) throws IOException {
        out.writeNumberField("id", berth.id());
        out.writeStringField("quay", berth.quay());
        out.writeNumberField("number", berth.number());
        out.writeNumberField("length", berth.length());
        out.writeNumberField("depth", berth.depth() / 10.0);
    }

    private static void fields(JsonGenerator out, Reservation reservation) throws IOException {
        out.writeNumberField("reservation", reservation.id());
        out.writeNumberField("berth", reservation.berth());
        out.writeStringField("day", date(reservation.day()));
        out.writeNumberField("nights", reservation.nights());
        out.writeStringField("vessel", reservation.vessel());
    }

    /** Reads what somebody wants to book; empty where it is not the JSON asked for. */
    static Optional<Reservation> wanted(byte[] body) {
        int berth = 0;
        int nights = 0;
        String day = "";
        String vessel = "";
        try (JsonParser in = FACTORY.createParser(body)) {
            if (in.nextToken() != JsonToken.START_OBJECT) {
                return Optional.empty();
            }
            while (in.nextToken() == JsonToken.FIELD_NAME) {
                String field = in.currentName();
                in.nextToken();
                switch (field) {
                    case "berth" -> berth = in.getIntValue();
                    case "nights" -> nights = in.getIntValue();
                    case "day" -> day = in.getText();
                    case "vessel" -> vessel = in.getText();
                    default -> in.skipChildren();
                }
            }
        } catch (IOException _) {
            return Optional.empty();
        }
        Optional<Integer> from = day(day);
        boolean valid = berth > 0 && nights > 0 && nights <= Reservation.MAX_NIGHTS && from.isPresent()
                && !vessel.isBlank() && vessel.length() <= 80;
        return valid ? Optional.of(new Reservation(0, berth, from.get(), nights, vessel)) : Optional.empty();
    }

    /** A date as days since 1970-01-01. */
    static Optional<Integer> day(String text) {
        try {
            return Optional.of((int) LocalDate.parse(text).toEpochDay());
        } catch (DateTimeException _) {
            return Optional.empty();
        }
    }

    static String date(int day) {
        return LocalDate.ofEpochDay(day).toString();
    }
}
