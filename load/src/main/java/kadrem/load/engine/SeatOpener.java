package kadrem.load.engine;

import java.util.List;

/** Opens the connections of seats, a bounded number at the same time. Confined to their lane. */
final class SeatOpener {
    private static final int AT_ONCE = 64;

    private final List<Seat> seats;
    private final Runnable whenSettled;
    private int next;
    private int settled;

    /** @param whenSettled what follows when each is open or has failed to open */
    SeatOpener(List<Seat> seats, Runnable whenSettled) {
        this.seats = seats;
        this.whenSettled = whenSettled;
    }

    void begin() {
        if (seats.isEmpty()) {
            whenSettled.run();
        }
        for (int i = 0; i < AT_ONCE; i++) {
            openNext();
        }
    }

    private void openNext() {
        if (next < seats.size()) {
            seats.get(next++).carrier().open(() -> {
                settled++;
                if (settled == seats.size()) {
                    whenSettled.run();
                } else {
                    openNext();
                }
            });
        }
    }
}
