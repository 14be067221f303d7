package kadrem.standins.berths;

import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;

/** What a berth board can be asked, whatever keeps its data. Safe for use by several threads unless it says otherwise. */
interface Board {
    /** Free berths listed in an answer about a day. */
    int LISTED = 40;

    DayView day(int day);

    Optional<BerthView> berth(int id);

    /** Books a stay and gives its number; empty where the berth is taken on one of the days. */
    OptionalLong reserve(Reservation wanted);

    /** Back to the seed data. */
    void reset();

    /** @param free the first free berths by quay and number */
    record DayView(int day, int freeCount, int takenCount, List<Berth> free) {
    }

    record BerthView(Berth berth, List<Reservation> reservations) {
    }
}
