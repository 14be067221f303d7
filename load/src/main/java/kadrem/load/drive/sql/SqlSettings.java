package kadrem.load.drive.sql;

import java.util.Set;

import kadrem.core.study.Access;
import kadrem.load.drive.AnswerRoom;
import kadrem.load.drive.DriverOrder;

/**
 * How statements are sent.
 *
 * @param pool connections that all users share; 0 where each has its own
 * @param prepared whether statements are prepared, or written out with their values
 * @param byVisit whether a transaction is a pass of a visit; otherwise each statement is one
 * @param isolation as {@link java.sql.Connection} numbers it; 0 for the database's own
 * @param fetch rows fetched at a time; 0 for the driver's own number
 * @param lastCalls numbers of the calls with which a pass of a visit ends
 * @param literal whether texts are sent without a type, which the database then finds by itself
 * @param room bytes of one answer for which there is room
 */
record SqlSettings(int pool, boolean prepared, boolean byVisit, int isolation, int fetch, Set<Integer> lastCalls,
        boolean literal, int room) {
    SqlSettings {
        lastCalls = Set.copyOf(lastCalls);
    }

    static SqlSettings of(DriverOrder order, Set<Integer> lastCalls) {
        Access access = order.access();
        return new SqlSettings(number(access, "pool"), !access.setting("prepared").equals("false"),
                access.setting("transaction").equals("visit"), SqlProtocol.isolation(access.setting("isolation")),
                number(access, "fetch"), lastCalls, order.address().toString().startsWith("jdbc:postgresql:"),
                AnswerRoom.share(order.users()));
    }

    private static int number(Access access, String name) {
        return access.setting(name).isBlank() ? 0 : Integer.parseInt(access.setting(name).strip());
    }
}
