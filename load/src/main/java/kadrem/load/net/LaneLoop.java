package kadrem.load.net;

import java.util.ArrayList;

import io.netty.channel.EventLoop;

/**
 * The event loop of a lane, with what is to leave at the end of its present turn. While a lane reads the answers that have come,
 * requests are gathered and leave together after the last of them: answers are timed before work is spent on other calls, and
 * a candidate that sleeps is woken once. At all other times what is to leave does so at once. Confined to the loop's thread.
 */
public final class LaneLoop {
    private final EventLoop loop;
    private final ArrayList<Runnable> departing = new ArrayList<>();
    private final LaneConnections connections = new LaneConnections();
    private boolean gathering;

    public LaneLoop(EventLoop loop) {
        this.loop = loop;
    }

    /** The loop itself, on which connections are made. */
    public EventLoop eventLoop() {
        return loop;
    }

    /** The connections that are made on it. */
    public LaneConnections connections() {
        return connections;
    }

    /** @throws IllegalStateException outside the loop's thread */
    public void confine() {
        if (!loop.inEventLoop()) {
            throw new IllegalStateException("only the lane's own thread may do this, not " + Thread.currentThread());
        }
    }

    /** Sends something off: at once, or at the end of the turn in which answers are read. */
    public void depart(Runnable sending) {
        if (gathering) {
            departing.add(sending);
        } else {
            sending.run();
        }
    }

    /** From now on what is to leave is gathered. */
    public void gather() {
        gathering = true;
    }

    /** Sends off what was gathered. What breaks meanwhile may have others send at once. */
    public void release() {
        gathering = false;
        for (int i = 0; i < departing.size(); i++) {
            departing.get(i).run();
        }
        departing.clear();
    }
}
