package kadrem.load.engine;

import java.util.List;
import java.util.Optional;

import io.netty.channel.EventLoop;
import kadrem.core.measure.FailureKind;

/** A lane's shares of all crowds. What is asked with each answer goes through them without making objects. Confined to the lane. */
final class LaneCrowds implements LaneSecond.Levels {
    private final List<LaneCrowd> crowds;

    LaneCrowds(List<LaneCrowd> crowds) {
        this.crowds = List.copyOf(crowds);
    }

    List<LaneCrowd> all() {
        return crowds;
    }

    /** Opens the connections crowd after crowd, so that never more are opened at once than one crowd would. */
    void open(EventLoop loop, Runnable whenReady) {
        open(0, loop, whenReady);
    }

    private void open(int crowd, EventLoop loop, Runnable whenReady) {
        if (crowd == crowds.size()) {
            whenReady.run();
            return;
        }
        LaneCrowd next = crowds.get(crowd);
        new SeatOpener(next.seats().openAhead(), loop, next.load().profile.timeout(),
                () -> next.pace().prepare(() -> open(crowd + 1, loop, whenReady))).begin();
    }

    void heldUp() {
        crowds.forEach(crowd -> crowd.pace().heldUp());
    }

    /**
     * Whether no crowd has anything to begin.
     *
     * @param ending whether the time is over
     */
    boolean haveNothingMore(boolean ending) {
        for (int i = 0; i < crowds.size(); i++) {
            LaneCrowd crowd = crowds.get(i);
            if (!ending && !crowd.pace().isDone() || !crowd.isIdle()) {
                return false;
            }
        }
        return true;
    }

    void giveUpLate(long now) {
        for (int i = 0; i < crowds.size(); i++) {
            crowds.get(i).seats().giveUpLate(now);
        }
    }

    /** When there is something to be done next. */
    long nextNanos(boolean running) {
        long next = Long.MAX_VALUE;
        for (int i = 0; i < crowds.size(); i++) {
            LaneCrowd crowd = crowds.get(i);
            next = Math.min(next, crowd.seats().nextNanos());
            if (running) {
                next = Math.min(next, crowd.pace().nextNanos());
            }
        }
        return next;
    }

    /**
     * Closes all connections.
     *
     * @param stopped whether calls under way are left alone
     * @param unsent where what was due and never sent is told; empty where it is not
     */
    void end(long now, boolean stopped, Optional<LaneSecond> unsent) {
        for (LaneCrowd crowd : crowds) {
            for (Seat seat : crowd.seats().all()) {
                if (!stopped) {
                    seat.giveUp(now, FailureKind.TIMEOUT, "");
                }
                seat.close();
            }
            unsent.ifPresent(crowd.pace()::eachUnsent);
            crowd.examples().deliverSlowest();
        }
    }

    /** When the last call of the measured part ended, after the start. */
    long lastMeasuredEnd() {
        return crowds.stream().mapToLong(crowd -> crowd.reports().lastMeasuredEnd()).max().orElseThrow();
    }

    /** Whether a number of visits was asked of each and was made before the time was over. */
    boolean areDoneEarly() {
        return crowds.stream().allMatch(crowd -> crowd.load().profile.course().visits().isPresent()
                && lastMeasuredEnd() < crowd.load().measuredEndNanos);
    }

    @Override
    public long backlog(long sinceStart) {
        return crowds.stream().mapToLong(crowd -> crowd.pace().backlog(sinceStart)).sum();
    }

    @Override
    public long intended(long from, long to) {
        return crowds.stream().mapToLong(crowd -> crowd.pace().intended(from, to)).sum();
    }
}
