package kadrem.load.host;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

import kadrem.core.measure.WatchReading;

/**
 * What a source tells when it is tried.
 *
 * @param values values of its second reading, in which rates are there too; empty where it told none
 * @param trouble why it cannot be read; empty where it can
 * @param took how long a reading takes
 */
public record SourceTrial(List<WatchReading.Value> values, Optional<String> trouble, Duration took,
        Optional<HostSource.ClockOffset> clock) {
    private static final Duration APART = Duration.ofSeconds(1);

    /** Opens the source, reads it twice and closes it, which takes more than a second. */
    public static SourceTrial of(Watching.Source source) throws InterruptedException {
        try (HostSource open = source.opening().open()) {
            open.read();
            Thread.sleep(APART);
            long begun = System.nanoTime();
            List<WatchReading.Value> values = open.read();
            return new SourceTrial(values, Optional.empty(), Duration.ofNanos(System.nanoTime() - begun), open.clock());
        } catch (SourceFailure failure) {
            return new SourceTrial(List.of(), Optional.of(failure.reason()), Duration.ZERO, Optional.empty());
        }
    }
}
