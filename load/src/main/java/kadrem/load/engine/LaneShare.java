package kadrem.load.engine;

/**
 * Which lanes of a load are made here. Users and arrivals are dealt to all lanes in turn, wherever they are, so that the load is
 * the same however many processes make it.
 *
 * @param first number of the first lane that is made here, from 0
 * @param count lanes that are made here
 * @param total lanes of the whole load
 */
public record LaneShare(int first, int count, int total) {
    public LaneShare {
        if (first < 0 || count < 1 || first + count > total) {
            throw new IllegalArgumentException("lanes " + first + " to " + (first + count - 1) + " of " + total);
        }
    }

    /** All lanes are made here. */
    public static LaneShare whole(int lanes) {
        return new LaneShare(0, lanes, lanes);
    }
}
