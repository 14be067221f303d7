package kadrem.load.drive.sql;

import java.sql.SQLException;
import java.sql.SQLTimeoutException;
import java.time.Duration;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;

import kadrem.load.content.UnusableCall;

/**
 * Work with a database beside the load that is given up when its time is over, whether the database connects, answers or takes a
 * cancellation or not: drivers wait for ever. It runs on a virtual thread, whose interrupt closes the sockets on which it waits.
 */
public final class SqlDeadline {
    private SqlDeadline() {
    }

    /** What is to be done. */
    @FunctionalInterface
    public interface Work<T> {
        T run() throws SQLException, UnusableCall;
    }

    /**
     * Does the work.
     *
     * @throws SQLTimeoutException if it has not ended within the limit
     */
    public static <T> T within(Duration limit, Work<T> work) throws SQLException, UnusableCall {
        var done = new CompletableFuture<T>();
        Thread worker = Thread.ofVirtual().name("kadrem-sql").start(() -> {
            CountedSockets.Traffic traffic = CountedSockets.ofThread();
            traffic.beginBeside();
            try {
                done.complete(work.run());
            } catch (SQLException | UnusableCall | RuntimeException failure) {
                done.completeExceptionally(failure);
            } finally {
                traffic.end();
            }
        });
        try {
            return done.get(limit.toNanos(), TimeUnit.NANOSECONDS);
        } catch (TimeoutException _) {
            worker.interrupt();
            throw new SQLTimeoutException("the database did not answer within " + limit.toMillis() / 1e3 + " s");
        } catch (InterruptedException _) {
            worker.interrupt();
            Thread.currentThread().interrupt();
            throw new SQLException("the database was not waited for");
        } catch (ExecutionException failed) {
            switch (failed.getCause()) {
                case SQLException cause -> throw cause;
                case UnusableCall cause -> throw cause;
                case RuntimeException cause -> throw cause;
                case null, default -> throw new IllegalStateException(failed);
            }
        }
    }
}
