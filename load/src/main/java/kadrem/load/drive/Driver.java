package kadrem.load.drive;

import java.util.Optional;

import kadrem.load.net.LaneLoop;

/** A protocol, prepared for one candidate and one workload before the run begins. */
public interface Driver extends AutoCloseable {
    /** A carrier on the lane that {@code loop} belongs to; any lane's thread, before the run and in it. */
    Carrier newCarrier(LaneLoop loop, Carrier.Listener listener);

    /** A connection for a rehearsal, to be closed. */
    Rehearser newRehearser();

    /** The word for a status of answers, by which failures are counted. */
    default String statusWord(int status) {
        return Integer.toString(status);
    }

    /** What the programs that stand for the candidate have used, where it is this driver that starts them. */
    default Optional<Spent> spent() {
        return Optional.empty();
    }

    @Override
    void close();
}
