package kadrem.core.study;

import java.time.Duration;
import java.util.OptionalLong;

/**
 * What a relay does to the connections that go through it.
 *
 * @param delay of all that goes either way; an answer comes later by twice as much
 * @param jitter the delay of each piece is even between as much less and as much more; order stays
 * @param bytesPerSecond that go through each way at most, of all connections together
 * @param cut share of connections that are reset when the first bytes of an answer come
 * @param refused share of connections that are reset as soon as they are made; of all, where it is 1, nobody listens
 * @param halfOpen share of connections that are taken and never answered
 */
public record RoughWire(Duration delay, Duration jitter, OptionalLong bytesPerSecond, double cut, double refused,
        double halfOpen) {
    /** A wire that does nothing. */
    public static final RoughWire SMOOTH = new RoughWire(Duration.ZERO, Duration.ZERO, OptionalLong.empty(), 0, 0, 0);

    public RoughWire {
        if (jitter.compareTo(delay) > 0) {
            throw new IllegalArgumentException("the jitter is more than the delay");
        }
    }
}
