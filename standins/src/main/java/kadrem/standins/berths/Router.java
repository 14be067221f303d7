package kadrem.standins.berths;

import java.util.Optional;
import java.util.OptionalLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** From a request to an answer, the same for all three services. */
final class Router {
    private static final Pattern BERTH = Pattern.compile("/berths/(\\d{1,9})");
    private static final Pattern TIDES = Pattern.compile("/tides/([a-z-]{1,40})");
    private static final Pattern DAY = Pattern.compile("(?:^|&)day=([0-9-]{1,12})(?:&|$)");

    private final Board board;

    Router(Board board) {
        this.board = board;
    }

    /** An answer with a JSON body. */
    record Answer(int status, byte[] body) {
    }

    /** @param query what follows the question mark, or empty */
    Answer answer(String method, String path, String query, byte[] body) {
        return switch (method) {
            case "GET" -> get(path, query);
            case "POST" -> post(path, body);
            default -> error(405, "method not allowed");
        };
    }

    private Answer get(String path, String query) {
        Matcher berth = BERTH.matcher(path);
        Matcher tides = TIDES.matcher(path);
        if (path.equals("/berths")) {
            return day(query).map(day -> new Answer(200, Json.day(board.day(day))))
                    .orElseGet(() -> error(400, "give the day as day=2026-07-14"));
        }
        if (berth.matches()) {
            return board.berth(Integer.parseInt(berth.group(1))).map(view -> new Answer(200, Json.berth(view)))
                    .orElseGet(() -> error(404, "no such berth"));
        }
        if (tides.matches()) {
            Optional<Integer> day = day(query);
            if (day.isEmpty()) {
                return error(400, "give the day as day=2026-07-14");
            }
            return Tides.day(tides.group(1), day.get())
                    .map(heights -> new Answer(200, Json.tides(tides.group(1), day.get(), heights)))
                    .orElseGet(() -> error(404, "no such station"));
        }
        return switch (path) {
            case "/health" -> new Answer(200, Json.single("status", "up"));
            case "/admin/version" -> new Answer(200, Json.single("version", "berth-board 1.0.0"));
            default -> error(404, "no such address");
        };
    }

    private Answer post(String path, byte[] body) {
        return switch (path) {
            case "/reservations" -> reserve(body);
            case "/admin/reset" -> {
                board.reset();
                yield new Answer(200, Json.single("status", "reset"));
            }
            default -> error(404, "no such address");
        };
    }

    private Answer reserve(byte[] body) {
        Optional<Reservation> wanted = Json.wanted(body);
        if (wanted.isEmpty()) {
            return error(400, "give berth, day, nights (1 to 14) and vessel");
        }
        Reservation stay = wanted.get();
        if (board.berth(stay.berth()).isEmpty()) {
            return error(404, "no such berth");
        }
        OptionalLong id = board.reserve(stay);
        return id.isEmpty()
                ? error(409, "the berth is taken")
                : new Answer(201, Json.reservation(
                        new Reservation(id.getAsLong(), stay.berth(), stay.day(), stay.nights(), stay.vessel())));
    }

    private static Optional<Integer> day(String query) {
        Matcher matcher = DAY.matcher(query);
        return matcher.find() ? Json.day(matcher.group(1)) : Optional.empty();
    }

    static Answer error(int status, String message) {
        return new Answer(status, Json.single("error", message));
    }
}
