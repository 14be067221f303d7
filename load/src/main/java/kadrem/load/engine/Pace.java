package kadrem.load.engine;

import java.util.List;

import kadrem.core.plan.UserDigest;

/** When visits and calls are due. Confined to its lane. */
sealed interface Pace extends LaneSecond.Levels permits UserPace, ArrivalPace {
    /** Makes ahead of the start what is not of the load, and runs {@code whenReady} on the lane. */
    void prepare(Runnable whenReady);

    void begin();

    /** The lane was held up and did nothing for a while. */
    void heldUp();

    /** Begins what is due, and does nothing where nothing is. */
    void beginDue();

    /** When something is due next that no seat waits for; {@link Long#MAX_VALUE} for never. */
    long nextNanos();

    /** The instant for which a seat waited has come. */
    void due(Seat seat, long dueNanos);

    /**
     * A seat's call has ended.
     *
     * @param pause think time after the call, in nanoseconds
     */
    void answered(Seat seat, long now, VisitCursor.Next next, boolean unreachable, long pause);

    /** Whether a seat is at the pace's disposal, or its user has left; after a fault nothing is to be given back twice. */
    boolean holds(Seat seat);

    /** Whether something that was due is still to be begun. */
    boolean hasMore();

    /** Tells the calls that were due and have found no connection until the end. Once, at the end. */
    default void eachUnsent(LaneSecond second) {
        // users begin their visits themselves
    }

    /** Whether nothing is to be begun any more although the time is not over, since a number of visits was asked for. */
    boolean isDone();

    long begunMeasured();

    /** Digests of the users' visits; empty in the open model. */
    default List<UserDigest> userDigests() {
        return List.of();
    }

    /** Arrivals begun, and at the end those that never were, of which the digest is; 0 in the closed model. */
    default long begun() {
        return 0;
    }

    /** Sum of the hashes of the arrivals begun; 0 in the closed model. */
    default long arrivalHashes() {
        return 0;
    }
}
