package kadrem.standins.berths;

/** A stay at a berth from day {@code day} (days since 1970-01-01) for {@code nights} nights. */
record Reservation(long id, int berth, int day, int nights, String vessel) {
    static final int MAX_NIGHTS = 14;

    boolean covers(int otherDay) {
        return day <= otherDay && otherDay < day + nights;
    }

    boolean overlaps(Reservation other) {
        return day < other.day + other.nights && other.day < day + nights;
    }
}
