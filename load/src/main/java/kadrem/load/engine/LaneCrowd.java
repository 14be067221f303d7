package kadrem.load.engine;

import kadrem.core.measure.Phase;
import kadrem.core.plan.Arrivals;
import kadrem.core.study.LoadProfile;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.Driver;

/** A lane's share of one crowd: its connections, what they send and when. Confined to the lane. */
final class LaneCrowd {
    private final Lane lane;
    private final CompiledLoad load;
    private final Driver driver;
    private final Seats seats;
    private final Pace pace;
    private final SeatReports reports;
    private final Examples examples;

    /**
     * What all lanes know of a crowd.
     *
     * @param arrivals none in the closed model
     */
    record Plan(CompiledLoad load, Arrivals arrivals, Driver driver) {
    }

    LaneCrowd(Lane lane, Plan plan, LaneSecond second, Recorder recorder) {
        this.lane = lane;
        load = plan.load();
        driver = plan.driver();
        examples = new Examples(load.calls, load.workload.credentials(), recorder, driver::statusWord);
        reports = new SeatReports(lane, this, load, driver, second, examples);
        seats = new Seats(this, load);
        pace = switch (load.profile) {
            case LoadProfile.Closed closed -> new UserPace(this, load, closed);
            case LoadProfile.Open open -> new ArrivalPace(this, load, plan.arrivals(), open);
        };
    }

    CompiledLoad load() {
        return load;
    }

    Seats seats() {
        return seats;
    }

    Pace pace() {
        return pace;
    }

    SeatReports reports() {
        return reports;
    }

    Examples examples() {
        return examples;
    }

    Lane lane() {
        return lane;
    }

    /** Number of the lane among all that make the load. */
    int number() {
        return lane.number();
    }

    /** Lanes of the whole load. */
    int total() {
        return lane.total();
    }

    long now() {
        return lane.now();
    }

    long startNanos() {
        return lane.startNanos();
    }

    boolean isEnding() {
        return lane.isEnding();
    }

    boolean isEnded() {
        return lane.isEnded();
    }

    Phase phaseOf(long due) {
        return lane.isRunning() ? load.phaseAt(due - lane.startNanos()) : Phase.WARM_UP;
    }

    Carrier newCarrier(Seat seat) {
        return driver.newCarrier(lane.loop(), seat);
    }

    /** Begins the seat's visit that was just drawn. */
    void beginVisit(Seat seat, long due, long ready) {
        seat.visitLateNanos = 0;
        seat.carrier().beginVisit();
        callNext(seat, due, ready);
    }

    /**
     * Begins the next call of the seat's visit.
     *
     * @param ready when it would have begun with every send on time
     */
    void callNext(Seat seat, long due, long ready) {
        int call = seat.visit.next();
        seat.begin(due, ready, phaseOf(due), load.timeoutOf(call), lane.now());
    }

    /** Visits due in the measured part by the load; 0 where users begin them as they are answered. */
    long intendedMeasured() {
        return pace.intended(load.warmUpNanos, load.measuredEndNanos);
    }

    /** Whether it has nothing more to begin, though answers may be awaited. */
    boolean isIdle() {
        return !pace.hasMore() && !(pace instanceof ArrivalPace arrivals && arrivals.isPausing());
    }
}
