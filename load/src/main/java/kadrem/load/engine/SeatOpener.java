package kadrem.load.engine;

import java.time.Duration;
import java.util.List;
import java.util.concurrent.TimeUnit;

import io.netty.channel.EventLoop;

/**
 * Opens the connections of seats, a bounded number at the same time. A peer that takes connections and then says nothing is not waited for:
 * when none has settled for the time that a call has, the load begins, and its calls tell. Confined to their lane.
 */
final class SeatOpener {
    private static final int AT_ONCE = 64;
    private static final Duration MIN = Duration.ofSeconds(5);
    private static final Duration MAX = Duration.ofSeconds(30);

    private final List<Seat> seats;
    private final EventLoop loop;
    private final Duration patience;
    private final Runnable whenSettled;
    private int next;
    private int settled;
    private boolean done;

    /**
     * @param timeout that a call has
     * @param whenSettled what follows when each is open or has failed to open, or is waited for no longer
     */
    SeatOpener(List<Seat> seats, EventLoop loop, Duration timeout, Runnable whenSettled) {
        this.seats = seats;
        this.loop = loop;
        patience = timeout.compareTo(MIN) < 0 ? MIN : timeout.compareTo(MAX) > 0 ? MAX : timeout;
        this.whenSettled = whenSettled;
    }

    void begin() {
        if (seats.isEmpty()) {
            end();
        }
        for (int i = 0; i < AT_ONCE; i++) {
            openNext();
        }
        watch();
    }

    private void watch() {
        int before = settled;
        if (!done) {
            loop.schedule(() -> {
                if (settled == before) {
                    end();
                } else {
                    watch();
                }
            }, patience.toMillis(), TimeUnit.MILLISECONDS);
        }
    }

    private void openNext() {
        if (next < seats.size() && !done) {
            seats.get(next++).carrier().open(() -> {
                settled++;
                if (settled == seats.size()) {
                    end();
                } else {
                    openNext();
                }
            });
        }
    }

    private void end() {
        if (!done) {
            done = true;
            whenSettled.run();
        }
    }
}
