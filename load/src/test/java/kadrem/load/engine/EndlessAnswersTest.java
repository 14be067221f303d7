package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.io.OutputStream;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicLong;

import io.netty.buffer.PooledByteBufAllocator;
import kadrem.core.measure.FailureKind;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.Isolated;

/** Alone, since the memory of other tests would be counted. */
@Isolated
class EndlessAnswersTest {
    /** Hundreds of megabytes pass by; no more is kept than is looked into. */
    @Test
    void noMemoryGrowsWithAnswersThatNeverEnd() throws IOException {
        var chunk = new byte[256 * 1024];
        // bytes
        long mostKept = 64L << 20;
        var passed = new AtomicLong();
        try (TestServer server = new TestServer((socket, in) -> {
            TestServer.readRequest(in);
            OutputStream out = socket.getOutputStream();
            out.write("HTTP/1.1 200 OK\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
            while (true) {
                out.write(chunk);
                passed.addAndGet(chunk.length);
            }
        })) {
            long before = used();
            Load load = WireFaultsTest.run(server, Duration.ofSeconds(2));
            assertThat(load.failed(FailureKind.TIMEOUT)).isEqualTo(WireFaultsTest.CALLS);
            assumeTrue(passed.get() > 3 * mostKept, "this machine is too slow to send that much in the time of a call");
            assertThat(used() - before).isLessThan(mostKept);
        }
    }

    private static long used() {
        System.gc();
        return ManagementFactory.getMemoryMXBean().getHeapMemoryUsage().getUsed()
                + PooledByteBufAllocator.DEFAULT.metric().usedDirectMemory();
    }
}
