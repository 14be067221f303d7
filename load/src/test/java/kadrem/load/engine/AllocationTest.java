package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;

import com.sun.management.ThreadMXBean;
import io.netty.util.ResourceLeakDetector;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.SecondTally;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.http.HttpDriver;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.parallel.Isolated;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * Bytes that a lane allocates for each call, by the JVM's own count for its thread. A call without a value to read makes no object, of which the
 * smallest has 16 bytes; what is made once a second is spread over its calls. The other bound lies half above the most that was measured.
 */
@Isolated
class AllocationTest {
    private static final ThreadMXBean THREADS = (ThreadMXBean) ManagementFactory.getThreadMXBean();

    private static ResourceLeakDetector.Level levelBefore = ResourceLeakDetector.getLevel();

    /** Fewer calls of a second are too few to spread over them what a lane does once a second. */
    private static final int MIN = 2_000;

    private static long laneBytes() {
        long[] lanes = Arrays.stream(THREADS.getThreadInfo(THREADS.getAllThreadIds()))
                .filter(info -> info != null && info.getThreadName().startsWith("kadrem-lane-"))
                .mapToLong(java.lang.management.ThreadInfo::getThreadId).toArray();
        return Arrays.stream(THREADS.getThreadAllocatedBytes(lanes)).sum();
    }

    /**
     * Looks at the lanes' bytes at the end of each second. The least of the seconds counts: until the compiler is done, and
     * where the machine gives little time, a call seems to make more.
     */
    private static final class Watching implements LoadListener {
        private final int last;
        private long before = -1;
        private volatile double least = Double.MAX_VALUE;

        Watching(int last) {
            this.last = last;
        }

        @Override
        public void second(SecondTally tally) {
            long now = laneBytes();
            long calls = 0;
            for (int i = 0; i < tally.callCount(); i++) {
                calls += tally.call(i, kadrem.core.measure.Phase.MEASURED).good;
            }
            if (before >= 0 && tally.second <= last && calls > MIN) {
                least = Math.min(least, (double) (now - before) / calls);
            }
            before = now;
        }

        @Override
        public void exchange(Exchange exchange) {
            // not looked at
        }
    }

    /** As in the generator's process: following up buffers that are never let go of makes objects of its own. */
    @BeforeAll
    static void asTheGenerator() {
        levelBefore = ResourceLeakDetector.getLevel();
        ResourceLeakDetector.setLevel(ResourceLeakDetector.Level.DISABLED);
    }

    @AfterAll
    static void asBefore() {
        ResourceLeakDetector.setLevel(levelBefore);
    }

    private static Workload workload(String kind) {
        Call call = Call.of("c", "GET", "/berths/7");
        Call made = switch (kind) {
            case "captured" -> call.capturing(new Capture("id", new Capture.Source.Pattern("o(k)")));
            default -> call;
        };
        return new Workload(List.of(), List.of(new Visit("v", 1, List.of(made))));
    }

    @ParameterizedTest
    @CsvSource({"plain, 8", "captured, 1100"})
    void aCallWithoutAValueToReadMakesNoObject(String kind, double bound) throws IOException, UnusableCall {
        try (TestServer server = TestServer.answering("HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok")) {
            LoadProfile load = Load.closed(1, Duration.ZERO, 5);
            var order = new LoadOrder(new Address("127.0.0.1", server.port(), ""), workload(kind), load, 1, 1);
            var watching = new Watching(4);
            try (var driver = new HttpDriver(new DriverOrder(order.address(), order.access(), order.workload(),
                    load.timeout(), new Secrets(java.util.Map.of(), java.nio.file.Path.of("")), Transport.best()));
                    LoadRun run = LoadRun.prepare(order, List.of(driver), Transport.best(), watching)) {
                run.begin(System.nanoTime() + 50_000_000);
                run.await();
                run.result();
            }
            double each = watching.least;
            System.out.printf("%s: %.0f bytes a call%n", kind, each);
            if (each == Double.MAX_VALUE) {
                Quiet.given("no second had " + MIN + " calls");
            }
            assertThat(each).isLessThan(bound);
        }
    }
}
