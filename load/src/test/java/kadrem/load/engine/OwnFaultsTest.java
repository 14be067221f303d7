package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.RunTotals;
import kadrem.core.measure.SecondTally;
import kadrem.core.study.Address;
import kadrem.core.study.LoadProfile;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Rehearser;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.net.LaneLoop;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Faults injected into lane, driver and recorder are told as Kadrem's own, and nothing hangs. */
@Timeout(60)
class OwnFaultsTest {
    /** A driver in whose way something is put. */
    private record Broken(Driver driver, CarrierWrapper wrapper) implements Driver {
        @Override
        public Carrier newCarrier(LaneLoop loop, Carrier.Listener listener) {
            return wrapper.wrap(loop, listener, driver);
        }

        @Override
        public Rehearser newRehearser() {
            return driver.newRehearser();
        }

        @Override
        public String statusWord(int status) {
            return driver.statusWord(status);
        }

        @Override
        public void close() {
            driver.close();
        }
    }

    private interface CarrierWrapper {
        Carrier wrap(LaneLoop loop, Carrier.Listener listener, Driver driver);
    }

    /** A carrier that hands on to another. */
    private static class Through implements Carrier {
        private final Carrier carrier;

        Through(Carrier carrier) {
            this.carrier = carrier;
        }

        @Override
        public void open(Runnable whenSettled) {
            carrier.open(whenSettled);
        }

        @Override
        public void send(int call, CallValues values) {
            carrier.send(call, values);
        }

        @Override
        public void beginVisit() {
            carrier.beginVisit();
        }

        @Override
        public void abandon(FailureKind kind) {
            carrier.abandon(kind);
        }

        @Override
        public void close() {
            carrier.close();
        }

        @Override
        public String requestText(int call, CallValues values) {
            return carrier.requestText(call, values);
        }

        @Override
        public String responseText() {
            return carrier.responseText();
        }
    }

    private static final class Kept implements LoadListener {
        private final RunTotals totals = new RunTotals(java.util.List.of("call"), 0, 2);
        private final int breaksAt;

        Kept(int breaksAt) {
            this.breaksAt = breaksAt;
        }

        @Override
        public void second(SecondTally tally) {
            if (tally.second == breaksAt) {
                throw new UncheckedIOException(new IOException("No space left on device"));
            }
            totals.add(tally);
        }

        @Override
        public void exchange(Exchange exchange) {
            // not looked at
        }
    }

    private static LoadResult run(Kept kept, CarrierWrapper wrapper) throws IOException {
        try (TestServer server = TestServer.answering("HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok")) {
            var order = new LoadOrder(new Address("127.0.0.1", server.port(), ""), Load.one("/x"),
                    new LoadProfile.Open(100, LoadProfile.Spacing.CONSTANT, 8, Duration.ZERO, Duration.ofSeconds(2),
                            Duration.ofSeconds(3)),
                    1, 1);
            var driverOrder = new DriverOrder(order.address(), order.access(), order.workload(),
                    Duration.ofSeconds(5), new Secrets(Map.of(), Path.of("")), Transport.best());
            try (var driver = new Broken(Drivers.open(driverOrder), wrapper);
                    LoadRun run = LoadRun.prepare(order, List.of(driver), Transport.best(), kept)) {
                run.begin(System.nanoTime() + 20_000_000);
                run.await();
                return run.result();
            } catch (UnusableCall cause) {
                throw new AssertionError(cause);
            }
        }
    }

    @Test
    void anExceptionWhileACallIsSentIsNoFailureOfTheCandidate() throws IOException {
        var kept = new Kept(-1);
        var calls = new AtomicInteger();
        LoadResult result = run(kept, (loop, listener, driver) -> new Through(driver.newCarrier(loop, listener)) {
            @Override
            public void send(int call, CallValues values) {
                if (calls.incrementAndGet() == 50) {
                    throw new IllegalStateException("injected into the sending of a call");
                }
                super.send(call, values);
            }
        });
        assertThat(result.begun()).as("the load went on").isEqualTo(200);
        assertThat(kept.totals.ownFaults()).isGreaterThanOrEqualTo(1);
        assertThat(kept.totals.figures().good()).isEqualTo(199);
        assertThat(kept.totals.figures().failed().get(FailureKind.GENERATOR)).isEqualTo(1);
        assertThat(kept.totals.figures().failedTotal()).as("none is the candidate's").isEqualTo(1);
    }

    @Test
    void anExceptionBehindAnAnswerIsNoFailureOfTheCandidate() throws IOException {
        var kept = new Kept(-1);
        var answers = new AtomicInteger();
        LoadResult result = run(kept, (loop, listener, driver) -> new Through(
                driver.newCarrier(loop, new Carrier.Listener() {
                    @Override
                    public void sent(long nanos, int bytes) {
                        listener.sent(nanos, bytes);
                    }

                    @Override
                    public void connected(long connectNanos, long handshakeNanos) {
                        listener.connected(connectNanos, handshakeNanos);
                    }

                    @Override
                    public void good(long nanos, int status, long bytes) {
                        if (answers.incrementAndGet() == 30) {
                            throw new IllegalStateException("injected behind an answer");
                        }
                        listener.good(nanos, status, bytes);
                    }

                    @Override
                    public void failed(long nanos, FailureKind kind, int status, long bytes, String detail) {
                        listener.failed(nanos, kind, status, bytes, detail);
                    }
                })));
        assertThat(result.begun()).isEqualTo(200);
        assertThat(kept.totals.figures().good()).isEqualTo(199);
        assertThat(kept.totals.figures().failed().get(FailureKind.GENERATOR)).isEqualTo(1);
        assertThat(kept.totals.figures().failedTotal()).as("none is the candidate's").isEqualTo(1);
    }

    @Test
    void aSecondThatCannotBeKeptIsCountedAndThoseAfterItAreKept() throws IOException {
        var kept = new Kept(0);
        LoadResult result = run(kept, (loop, listener, driver) -> driver.newCarrier(loop, listener));
        assertThat(result.lost()).isEqualTo(1);
        assertThat(kept.totals.figures().good()).isBetween(90L, 110L);
    }

    /** An exception while a lane ends must not leave the run waiting. */
    @Test
    void anExceptionWhileALaneEndsDoesNotHang() throws IOException {
        var kept = new Kept(-1);
        run(kept, (loop, listener, driver) -> new Through(driver.newCarrier(loop, listener)) {
            @Override
            public void close() {
                super.close();
                throw new IllegalStateException("injected into the end");
            }
        });
        assertThat(kept.totals.figures().good()).isEqualTo(200);
        assertThat(kept.totals.ownFaults()).isGreaterThanOrEqualTo(1);
    }
}
