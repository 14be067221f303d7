package kadrem.load.engine;

import java.lang.management.ManagementFactory;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.foreign.Arena;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;

import kadrem.core.plan.Arrivals;
import kadrem.core.plan.Instants;
import kadrem.core.plan.Recorded;
import kadrem.core.plan.StreamDigest;
import kadrem.core.plan.UserDigest;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Pacing;
import kadrem.core.study.Timeline;
import kadrem.load.drive.Driver;
import kadrem.load.drive.Drivers;
import kadrem.load.net.Transport;

/**
 * One run of a load profile against one address:
 *
 * <pre>
 * LoadRun run = LoadRun.prepare(order, drivers, transport, listener); // connections are opened, first parts made
 * run.begin(System.nanoTime() + 200_000_000); // the instant from which everything is due
 * run.await();
 * LoadResult result = run.result();
 * </pre>
 *
 * {@link #stop()} may be called by any thread at any time.
 */
public final class LoadRun implements AutoCloseable {
    private final LoadOrder order;
    private final List<CrowdOrder> crowds;
    private final Pacing pacing;
    /** Whether threads that wait for answers make the calls, and share the processors of the lanes. */
    private final boolean waitsOnThreads;
    private final List<LaneThread> lanes = new ArrayList<>();
    private final Recorder recorder;

    private LoadRun(LoadOrder order, List<Driver> drivers, Transport transport, LoadListener listener) {
        this.order = order;
        LaneShare share = order.lanes();
        crowds = order.crowds();
        waitsOnThreads = order.addresses().stream().anyMatch(Drivers::waitsOnThreads);
        pacing = order.pacing().orElseGet(() -> Pacing.fitting(Runtime.getRuntime().availableProcessors(),
                share.count()));
        recorder = new Recorder(share.count(), order.workload().calls().size(), listener);
        var plans = new ArrayList<LaneCrowd.Plan>();
        for (int i = 0; i < crowds.size(); i++) {
            plans.add(plan(crowds.get(i), drivers.get(i)));
        }
        for (int i = 0; i < share.count(); i++) {
            int lane = i;
            var processors = new BitSet();
            if (!order.processors().isEmpty()) {
                processors.set(order.processors().get(i));
            }
            lanes.add(new LaneThread(share.first() + i, transport, pacing, processors,
                    parts -> new Lane(lane, share.first() + lane, share.total(), plans, parts.loop(), parts.poll(),
                            recorder, System::nanoTime, parts.turns())));
        }
    }

    private static LaneCrowd.Plan plan(CrowdOrder crowd, Driver driver) {
        Optional<Recorded> recorded = recorded(crowd);
        Arrivals arrivals = recorded.<Arrivals>map(one -> one)
                .orElseGet(() -> crowd.load() instanceof LoadProfile.Open open
                        ? Arrivals.of(open, crowd.seed())
                        : Arrivals.NONE);
        return new LaneCrowd.Plan(new CompiledLoad(crowd, recorded), arrivals, driver);
    }

    /** The arrivals of a timeline, in memory that is mapped to their file. */
    private static Optional<Recorded> recorded(CrowdOrder crowd) {
        if (!(crowd.load() instanceof LoadProfile.Open open) || open.timeline().isEmpty()) {
            return Optional.empty();
        }
        Timeline timeline = open.timeline().get();
        try (FileChannel file = FileChannel.open(Path.of(timeline.ready()))) {
            return Optional.of(Recorded.of(open, crowd.crowd().start(), timeline,
                    Instants.in(file.map(FileChannel.MapMode.READ_ONLY, 0, file.size(), Arena.ofAuto()))));
        } catch (IOException cause) {
            throw new UncheckedIOException("the arrivals of " + timeline.file() + " cannot be had", cause);
        }
    }

    /**
     * Opens the connections and makes what belongs ahead of the load; a connection that cannot be opened is tried again by its
     * first call.
     *
     * @param drivers one for each crowd of the order
     */
    public static LoadRun prepare(LoadOrder order, List<Driver> drivers, Transport transport, LoadListener listener) {
        var run = new LoadRun(order, drivers, transport, listener);
        List<CompletableFuture<Void>> opened = run.lanes.stream().map(LaneThread::start).toList();
        try {
            opened.forEach(future -> future.orTimeout(90, TimeUnit.SECONDS).join());
            return run;
        } catch (CompletionException failure) {
            run.close();
            throw new IllegalStateException("the connections could not be opened within 90 s", failure.getCause());
        }
    }

    /** How the lanes wait and which processors are theirs. */
    public String arrangement() {
        List<Integer> own = order.processors();
        if (own.isEmpty()) {
            return pacing.words();
        }
        return pacing.words() + (own.size() == 1
                ? ", on processor " + own.getFirst() + " of its own"
                : ", on processors " + own.stream().map(String::valueOf).collect(Collectors.joining(", "))
                        + " of their own")
                + (waitsOnThreads ? ", shared with the threads that wait for answers" : "")
                + (lanes.stream().allMatch(LaneThread::isFirst)
                        ? ", before all other work there"
                        : "");
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
        lanes.forEach(LaneThread::stop);
    }

    /** Waits for the end of the load. What is recorded before {@link #result()} still finds its place. */
    public void await() {
        try {
            CompletableFuture.allOf(lanes.stream().map(LaneThread::finished).toArray(CompletableFuture[]::new))
                    .join();
        } catch (CompletionException failure) {
            throw new IllegalStateException("a lane broke down", failure.getCause());
        }
    }

    /** Ends the recording of a load that has ended. */
    public LoadResult result() {
        recorder.finish();
        List<Lane> ended = lanes.stream().map(LaneThread::lane).toList();
        boolean stopped = ended.stream().anyMatch(Lane::wasStopped);
        var streams = new ArrayList<StreamDigest>();
        var begun = new ArrayList<LoadResult.Begun>();
        for (int i = 0; i < crowds.size(); i++) {
            int number = i;
            List<LaneCrowd> shares = ended.stream().map(lane -> lane.crowds().get(number)).toList();
            streams.add(digest(crowds.get(i).load(), shares.stream().map(LaneCrowd::pace).toList()));
            begun.add(new LoadResult.Begun(crowds.get(i).crowd().name(),
                    shares.stream().mapToLong(LaneCrowd::intendedMeasured).sum(),
                    shares.stream().mapToLong(share -> share.pace().begunMeasured()).sum()));
        }
        return new LoadResult(StreamDigest.of(streams), begun, stopped, seconds(ended), recorder.lost());
    }

    /** What a crowd sent, over the lanes that made it. */
    static StreamDigest digest(LoadProfile.Single load, List<Pace> paces) {
        return switch (load) {
            case LoadProfile.Closed _ -> UserDigest
                    .combine(paces.stream().flatMap(pace -> pace.userDigests().stream()).toList());
            case LoadProfile.Open _ -> new StreamDigest(StreamDigest.Model.OPEN, List.of(new StreamDigest.Part(
                    paces.stream().mapToLong(Pace::begun).sum(),
                    paces.stream().mapToLong(Pace::arrivalHashes).sum())));
        };
    }

    private OptionalDouble seconds(List<Lane> ended) {
        if (!ended.stream().allMatch(Lane::isDoneEarly)) {
            return OptionalDouble.empty();
        }
        long last = ended.stream().mapToLong(Lane::lastMeasuredEnd).max().orElse(0);
        return OptionalDouble.of(Math.max(1, last - order.load().warmUp().toNanos()) / 1e9);
    }

    /** CPU time that the lanes' threads have used so far, in nanoseconds; any thread may ask. */
    public long laneCpuNanos() {
        var threads = ManagementFactory.getThreadMXBean();
        return lanes.stream().mapToLong(LaneThread::threadId).map(threads::getThreadCpuTime)
                .filter(nanos -> nanos > 0).sum();
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
        lanes.forEach(LaneThread::close);
    }
}
