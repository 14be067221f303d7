package kadrem.load.generator;

import java.io.BufferedInputStream;
import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executor;
import java.util.concurrent.Executors;
import java.util.function.Consumer;

import io.netty.util.ResourceLeakDetector;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.SecondTally;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.UserDrivers;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadSession;
import kadrem.load.host.BackgroundThread;
import kadrem.load.host.NativeThread;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The process of the load: takes orders on its input, tells on its output what it records, and ends with its input. It holds no
 * study and writes no file. With {@code --practise SECONDS} it makes load on an answerer of its own and ends, from which the build
 * makes the cache of its compiled code.
 */
public final class Generator {
    private static final Logger LOG = LoggerFactory.getLogger(Generator.class);

    private final Frames frames;
    private final Places places = Places.ofThisHost();
    /** Whether a load was made here to its end. */
    private volatile boolean compiled;
    private final Map<Integer, Work> works = new ConcurrentHashMap<>();
    /** Adds up what lanes have used, which must not interrupt a candidate. */
    private final Executor accounts = accounts();

    private Generator(Frames frames) {
        this.frames = frames;
    }

    public static void main(String[] arguments) throws IOException {
        // to follow up buffers makes objects of its own: four of five bytes that a call took; tests do it
        ResourceLeakDetector.setLevel(ResourceLeakDetector.Level.DISABLED);
        if (arguments.length == 2 && arguments[0].equals("--practise")) {
            Practice.of(Duration.ofSeconds(Long.parseLong(arguments[1])));
            return;
        }
        var out = new FileOutputStream(FileDescriptor.out);
        // whatever else is printed must not come between the frames
        System.setOut(System.err);
        NativeThread.ignoreInterruptions();
        UserDrivers.join();
        new Generator(new Frames(new BufferedInputStream(System.in), out)).serve();
        Runtime.getRuntime().halt(0);
    }

    private void serve() throws IOException {
        for (var next = frames.next(); next.isPresent(); next = frames.next()) {
            Message message = MessageJson.read(next.get().bytes());
            switch (message) {
                case Message.Prepare order -> {
                    var work = new Work(order);
                    works.put(order.session(), work);
                    Thread.ofPlatform().name("kadrem-load-" + order.session()).start(work::run);
                }
                case Message.Begin begin -> withWork(begin, work -> work.begin(begin.startNanos()));
                case Message.Stop stop -> withWork(stop, Work::stop);
                case Message.AskUsage ask -> withWork(ask, work -> accounts.execute(work::tellUsage));
                case Message.Close close -> {
                    Work work = works.remove(close.session());
                    if (work != null) {
                        work.close();
                    }
                }
                default -> LOG.warn("not an order: {}", message);
            }
        }
        // nobody listens any more
        works.values().forEach(Work::stop);
    }

    private static Executor accounts() {
        Executor made = Executors
                .newSingleThreadExecutor(Thread.ofPlatform().name("kadrem-accounts").daemon().factory());
        made.execute(BackgroundThread::yieldToAll);
        return made;
    }

    private void withWork(Message message, Consumer<Work> what) {
        Work work = works.get(message.session());
        if (work != null) {
            what.accept(work);
        }
    }

    private void tell(Message message) {
        try {
            frames.send(message);
        } catch (IOException cause) {
            throw new java.io.UncheckedIOException("nobody listens any more", cause);
        }
    }

    /** A session from its order to its end. */
    private final class Work implements LoadListener {
        private final Message.Prepare order;
        private final TallyFrame tallies = new TallyFrame();
        private final CountDownLatch toBegin = new CountDownLatch(1);
        private final CountDownLatch closed = new CountDownLatch(1);
        private volatile @Nullable LoadSession load;
        private volatile long startNanos;
        private volatile boolean stopped;

        Work(Message.Prepare order) {
            this.order = order;
        }

        void run() {
            int session = order.session();
            List<Integer> processors = places.take(order.order().lanes().count(),
                    order.order().candidates());
            boolean waitsOnThreads = !processors.isEmpty()
                    && order.order().addresses().stream().anyMatch(Drivers::waitsOnThreads);
            if (waitsOnThreads) {
                places.callersCome(order.order().candidates());
            }
            places.keepOthersOff(compiled);
            LoadOrder placed = order.order().on(processors).paced(order.order().pacing().or(() -> Optional.of(
                    places.pacing(order.order().lanes().count(), !processors.isEmpty()))));
            try (LoadSession made = LocalLoad.MAKER.prepare(placed,
                    Secrets.ofProcess(Path.of(order.folder())), this)) {
                load = made;
                // threads that the lanes have started stay where those are
                places.keepOthersOff(compiled);
                tell(new Message.Prepared(session, made.arrangement(), processors));
                toBegin.await();
                if (stopped) {
                    made.stop();
                }
                made.begin(startNanos);
                made.await();
                compiled = true;
                tell(new Message.Ended(session, made.result(), made.collectorPauses()));
                closed.await();
            } catch (UnusableCall cause) {
                tell(new Message.Unusable(session, String.valueOf(cause.getMessage())));
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            } catch (RuntimeException | Error failure) {
                LOG.error("a load broke down", failure);
                tell(new Message.Broken(session, String.valueOf(failure.getMessage())));
            } finally {
                if (waitsOnThreads) {
                    places.callersLeave();
                }
                places.giveBack(processors);
                places.keepOthersOff(compiled);
                works.remove(session);
                tell(new Message.Closed(session));
            }
        }

        void begin(long start) {
            startNanos = start;
            toBegin.countDown();
        }

        void stop() {
            stopped = true;
            LoadSession made = load;
            if (made != null) {
                made.stop();
            }
        }

        void close() {
            stop();
            toBegin.countDown();
            closed.countDown();
        }

        void tellUsage() {
            LoadSession made = load;
            if (made != null) {
                tell(new Message.Used(order.session(), made.usage()));
            }
        }

        @Override
        public void second(SecondTally tally) {
            try {
                frames.send(order.session(), tallies.write(tally));
            } catch (IOException cause) {
                throw new java.io.UncheckedIOException("a second could not be told", cause);
            }
        }

        @Override
        public void exchange(Exchange exchange) {
            tell(new Message.Kept(order.session(), exchange));
        }
    }
}
