package kadrem.load.engine;

import java.util.Arrays;
import java.util.TreeMap;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.atomic.AtomicLong;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.SecondTally;
import kadrem.load.host.BackgroundThread;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Takes the lanes' seconds on a thread of its own, adds those of the same second, and hands them on in order. */
public final class Recorder {
    private static final Logger LOG = LoggerFactory.getLogger(Recorder.class);

    private final LoadListener listener;
    private final int callCount;
    private final BlockingQueue<Item> queue = new LinkedBlockingQueue<>();
    private final ConcurrentLinkedQueue<SecondTally> spare = new ConcurrentLinkedQueue<>();
    private final TreeMap<Integer, SecondTally> open = new TreeMap<>();
    private final int[] deliveredUpTo;
    private final Thread thread;
    private final AtomicLong lost = new AtomicLong();

    private sealed interface Item {
        record Second(int lane, SecondTally tally, boolean last) implements Item {
        }

        record Example(Exchange exchange) implements Item {
        }

        record Task(Runnable task) implements Item {
        }

        record End() implements Item {
        }
    }

    public Recorder(int lanes, int callCount, LoadListener listener) {
        this.callCount = callCount;
        this.listener = listener;
        deliveredUpTo = new int[lanes];
        Arrays.fill(deliveredUpTo, -1);
        thread = Thread.ofPlatform().name("kadrem-recorder").daemon().unstarted(this::work);
    }

    public void start() {
        thread.start();
    }

    /** A cleared tally; any thread. */
    public SecondTally take() {
        SecondTally tally = spare.poll();
        return tally == null ? new SecondTally(callCount) : tally;
    }

    /** Takes a lane's second; the lane must not touch it again. */
    public void deliver(int lane, SecondTally tally, boolean last) {
        queue.add(new Item.Second(lane, tally, last));
    }

    public void deliver(Exchange exchange) {
        queue.add(new Item.Example(exchange));
    }

    public void deliver(Runnable task) {
        queue.add(new Item.Task(task));
    }

    /** Waits until all that was delivered is handed on, and ends. May be called again. */
    public void finish() {
        if (thread.getState() == Thread.State.NEW) {
            return;
        }
        queue.add(new Item.End());
        try {
            thread.join();
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }

    /** Seconds and exchanges that could not be handed on; of a recording that has ended. */
    public long lost() {
        return lost.get();
    }

    private void work() {
        BackgroundThread.yieldToAll();
        while (true) {
            try {
                switch (queue.take()) {
                    case Item.Second(int lane, SecondTally tally, boolean last) -> take(lane, tally, last);
                    case Item.Example(Exchange exchange) -> listener.exchange(exchange);
                    case Item.Task(Runnable task) -> task.run();
                    case Item.End() -> {
                        handOn(Integer.MAX_VALUE);
                        return;
                    }
                }
            } catch (InterruptedException _) {
                return;
            } catch (RuntimeException | LinkageError failure) {
                if (lost.incrementAndGet() == 1) {
                    LOG.error("something that was measured could not be kept", failure);
                }
            }
        }
    }

    private void take(int lane, SecondTally tally, boolean last) {
        deliveredUpTo[lane] = last ? Integer.MAX_VALUE : tally.second;
        SecondTally sum = open.get(tally.second);
        if (sum == null) {
            open.put(tally.second, tally);
        } else {
            sum.add(tally);
            recycle(tally);
        }
        handOn(Arrays.stream(deliveredUpTo).min().orElseThrow());
    }

    private void handOn(int upTo) {
        while (!open.isEmpty() && open.firstKey() <= upTo) {
            SecondTally tally = open.pollFirstEntry().getValue();
            try {
                listener.second(tally);
            } catch (RuntimeException | LinkageError failure) {
                // those behind it are still handed on
                if (lost.incrementAndGet() == 1) {
                    LOG.error("second {} could not be kept", tally.second, failure);
                }
            } finally {
                recycle(tally);
            }
        }
    }

    private void recycle(SecondTally tally) {
        tally.clear();
        spare.add(tally);
    }
}
