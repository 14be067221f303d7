package kadrem.load.engine;

import java.lang.management.ManagementFactory;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalDouble;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ThreadFactory;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.LongStream;

import io.netty.channel.EventLoop;
import io.netty.channel.EventLoopGroup;
import io.netty.util.concurrent.EventExecutor;
import io.netty.util.concurrent.FastThreadLocalThread;
import kadrem.core.plan.Arrivals;
import kadrem.core.plan.StreamDigest;
import kadrem.core.plan.UserDigest;
import kadrem.core.study.LoadProfile;
import kadrem.load.drive.Driver;

/**
 * One run of a load profile against one address:
 *
 * <pre>
 * LoadRun run = LoadRun.prepare(order, driver, transport, listener); // connections are opened
 * run.begin(System.nanoTime() + 200_000_000); // the instant from which everything is due
 * run.await();
 * LoadResult result = run.result();
 * </pre>
 *
 * {@link #stop()} may be called by any thread at any time.
 */
public final class LoadRun implements AutoCloseable {
    private final LoadOrder order;
    private final EventLoopGroup group;
    private final List<Lane> lanes = new ArrayList<>();
    private final Recorder recorder;
    private long[] threadIds = {};

    private LoadRun(LoadOrder order, Driver driver, Transport transport, LoadListener listener) {
        this.order = order;
        group = transport.newGroup(order.lanes(), laneThreads());
        int calls = order.workload().calls().size();
        recorder = new Recorder(order.lanes(), calls, listener);
        int number = 0;
        for (EventExecutor executor : group) {
            lanes.add(new Lane(number++, order, (EventLoop) executor, driver, recorder, System::nanoTime));
        }
    }

    /** Threads of the kind for which Netty keeps used objects. */
    private static ThreadFactory laneThreads() {
        var number = new AtomicInteger();
        return work -> new FastThreadLocalThread(work, "kadrem-lane-" + number.getAndIncrement());
    }

    /** Opens the connections and returns when each is open or has failed; a failed one is tried again by its first call. */
    public static LoadRun prepare(LoadOrder order, Driver driver, Transport transport, LoadListener listener) {
        var run = new LoadRun(order, driver, transport, listener);
        List<CompletableFuture<Long>> opened = run.lanes.stream().map(Lane::open).toList();
        try {
            run.threadIds = opened.stream().mapToLong(future -> future.orTimeout(90, TimeUnit.SECONDS).join())
                    .toArray();
            return run;
        } catch (CompletionException failure) {
            run.close();
            throw new IllegalStateException("the connections could not be opened within 90 s", failure.getCause());
        }
    }

    /** @param startNanos instant of {@link System#nanoTime()}, in the near future, from which everything is due */
    public void begin(long startNanos) {
        recorder.start();
        lanes.forEach(lane -> lane.begin(startNanos));
    }

    /** Runs {@code task} on the recording thread, in its place among what the lanes record; any thread. */
    public void record(Runnable task) {
        recorder.deliver(task);
    }

    /** Ends the load at once; {@link #result()} is then marked as stopped. */
    public void stop() {
        lanes.forEach(Lane::stop);
    }

    /** Waits for the end of the load. What is recorded before {@link #result()} still finds its place. */
    public void await() {
        try {
            CompletableFuture.allOf(lanes.stream().map(Lane::finished).toArray(CompletableFuture[]::new)).join();
        } catch (CompletionException failure) {
            throw new IllegalStateException("a lane broke down", failure.getCause());
        }
    }

    /** Ends the recording of a load that has ended. */
    public LoadResult result() {
        recorder.finish();
        boolean stopped = lanes.stream().anyMatch(Lane::wasStopped);
        StreamDigest stream = switch (order.load()) {
            case LoadProfile.Closed _ ->
                UserDigest.combine(lanes.stream().flatMap(lane -> lane.userDigests().stream()).toList());
            case LoadProfile.Open _ -> new StreamDigest(StreamDigest.Model.OPEN, List.of(new StreamDigest.Part(
                    lanes.stream().mapToLong(Lane::begun).sum(), lanes.stream().mapToLong(Lane::arrivalHashes).sum())));
        };
        return new LoadResult(stream, intended(), lanes.stream().mapToLong(Lane::begunMeasured).sum(), stopped,
                seconds());
    }

    private long intended() {
        return switch (order.load()) {
            case LoadProfile.Open open -> {
                Arrivals arrivals = Arrivals.of(open, order.streamSeed());
                yield arrivals.dueBefore(open.warmUp().plus(open.measured()).toNanos())
                        - arrivals.dueBefore(open.warmUp().toNanos());
            }
            case LoadProfile.Closed _ -> lanes.stream().mapToLong(Lane::intendedMeasured).sum();
        };
    }

    private OptionalDouble seconds() {
        if (!lanes.stream().allMatch(Lane::isDoneEarly)) {
            return OptionalDouble.empty();
        }
        long last = lanes.stream().mapToLong(Lane::lastMeasuredEnd).max().orElse(0);
        return OptionalDouble.of(Math.max(1, last - order.load().warmUp().toNanos()) / 1e9);
    }

    /** CPU time that the lanes' threads have used so far, in nanoseconds; any thread may ask. */
    public long laneCpuNanos() {
        var threads = ManagementFactory.getThreadMXBean();
        return LongStream.of(threadIds).map(threads::getThreadCpuTime).filter(nanos -> nanos > 0).sum();
    }

    /**
     * CPU time that the threads under users who wait on virtual threads have used so far, in nanoseconds; any thread may ask. 0 where
     * calls go to something in this process, whose own work they carry.
     */
    public long userCpuNanos() {
        return order.address().port() == 0 ? 0 : Carriers.cpuNanos();
    }

    @Override
    public void close() {
        stop();
        recorder.finish();
        group.shutdownGracefully(0, 2, TimeUnit.SECONDS).awaitUninterruptibly(5, TimeUnit.SECONDS);
    }
}
