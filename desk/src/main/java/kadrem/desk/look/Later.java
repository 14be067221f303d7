package kadrem.desk.look;

import java.util.Optional;
import java.util.function.Supplier;

import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What takes too long for the interface thread: worked out once for a key on a thread of its own. Called on the interface
 * thread only.
 *
 * @param <K> what it is worked out of; a value with {@code equals}
 * @param <V> what comes of it
 */
public final class Later<K, V> {
    private static final Logger LOG = LoggerFactory.getLogger(Later.class);

    private final Runnable again;
    private Optional<K> key = Optional.empty();
    private Optional<V> value = Optional.empty();
    private String problem = "";

    /** @param again told when the value is there */
    public Later(Runnable again) {
        this.again = again;
    }

    /** The value of a key; empty until it is there, and then the caller is told to look again. */
    public Optional<V> of(K wanted, Supplier<V> work) {
        if (key.filter(wanted::equals).isEmpty()) {
            key = Optional.of(wanted);
            value = Optional.empty();
            problem = "";
            Background.AT_ONCE.run(work::get, found -> take(wanted, found), cause -> {
                LOG.error("what was to be shown could not be worked out", cause);
                fail(wanted, String.valueOf(cause.getMessage()));
            });
        }
        return value;
    }

    /** Why there is no value for the last key; empty where there is one, or may still be one. */
    public String problem() {
        return problem;
    }

    private void fail(K wanted, String why) {
        if (key.filter(wanted::equals).isPresent()) {
            problem = why;
            again.run();
        }
    }

    private void take(K wanted, V found) {
        if (key.filter(wanted::equals).isPresent()) {
            value = Optional.of(found);
            again.run();
        }
    }
}
