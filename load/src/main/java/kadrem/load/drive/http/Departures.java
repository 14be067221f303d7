package kadrem.load.drive.http;

import java.util.ArrayList;

import io.netty.channel.EventLoop;

/**
 * Requests of one lane that are written and not yet handed to the system. They leave together, after the answers that have
 * come were read: an answer is then timed before work is spent on other calls, and a candidate that sleeps is woken once and
 * not once for each request. Confined to the lane.
 */
final class Departures implements Runnable {
    private final EventLoop loop;
    private final ArrayList<HttpCarrier> written = new ArrayList<>();
    private boolean leaving;

    Departures(EventLoop loop) {
        this.loop = loop;
    }

    /** Sends off what the carrier has written, at the end of the loop's present turn. */
    void add(HttpCarrier carrier) {
        written.add(carrier);
        if (!leaving) {
            leaving = true;
            loop.execute(this);
        }
    }

    @Override
    public void run() {
        // a connection that breaks while it sends may have others send again at once: they are added behind
        for (int i = 0; i < written.size(); i++) {
            written.get(i).depart();
        }
        written.clear();
        leaving = false;
    }
}
