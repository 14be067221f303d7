package kadrem.load.engine;

import static java.lang.foreign.ValueLayout.ADDRESS;
import static java.lang.foreign.ValueLayout.JAVA_INT;
import static java.lang.foreign.ValueLayout.JAVA_LONG;

import java.lang.foreign.Arena;
import java.lang.foreign.FunctionDescriptor;
import java.lang.foreign.Linker;
import java.lang.foreign.MemorySegment;
import java.lang.invoke.MethodHandle;
import java.util.Optional;

import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What Linux lets a thread ask for itself: to be woken exactly, and to stay on a processor. Elsewhere nothing is done. Sources: Linux
 * manual pages prctl(2), PR_SET_TIMERSLACK, and sched_setaffinity(2).
 */
@SuppressWarnings("restricted")
final class NativeThread {
    private static final Logger LOG = LoggerFactory.getLogger(NativeThread.class);
    private static final int SET_TIMER_SLACK = 29;
    private static final int SET_BYTES = 128;
    private static final Optional<MethodHandle> PRCTL = find("prctl",
            FunctionDescriptor.of(JAVA_INT, JAVA_INT, JAVA_LONG, JAVA_LONG, JAVA_LONG, JAVA_LONG));
    private static final Optional<MethodHandle> SET_AFFINITY = find("sched_setaffinity",
            FunctionDescriptor.of(JAVA_INT, JAVA_INT, JAVA_LONG, ADDRESS));

    private NativeThread() {
    }

    private static Optional<MethodHandle> find(String name, FunctionDescriptor type) {
        if (!System.getProperty("os.name", "").equals("Linux") || ADDRESS.byteSize() != 8) {
            return Optional.empty();
        }
        Linker linker = Linker.nativeLinker();
        return linker.defaultLookup().find(name).map(symbol -> linker.downcallHandle(symbol, type));
    }

    /** Has the calling thread woken within a nanosecond of what it asks for, where the system can, and not within 50 µs. */
    static void wakeExactly() {
        PRCTL.ifPresent(prctl -> {
            try {
                int _ = (int) prctl.invokeExact(SET_TIMER_SLACK, 1L, 0L, 0L, 0L);
            } catch (Throwable cause) {
                LOG.debug("the timer slack stays as it is", cause);
            }
        });
    }

    /**
     * Keeps the calling thread on a processor.
     *
     * @return whether the system did so
     */
    static boolean stayOn(int processor) {
        if (SET_AFFINITY.isEmpty() || processor < 0 || processor >= SET_BYTES * 8) {
            return false;
        }
        try (Arena arena = Arena.ofConfined()) {
            MemorySegment set = arena.allocate(SET_BYTES);
            set.set(java.lang.foreign.ValueLayout.JAVA_BYTE, processor / 8, (byte) (1 << processor % 8));
            return (int) SET_AFFINITY.get().invokeExact(0, (long) SET_BYTES, set) == 0;
        } catch (Throwable cause) {
            LOG.debug("the thread stays where it is", cause);
            return false;
        }
    }
}
