package kadrem.load.host;

import static java.lang.foreign.ValueLayout.ADDRESS;
import static java.lang.foreign.ValueLayout.JAVA_BYTE;
import static java.lang.foreign.ValueLayout.JAVA_INT;
import static java.lang.foreign.ValueLayout.JAVA_LONG;

import java.io.File;
import java.io.IOException;
import java.lang.foreign.Arena;
import java.lang.foreign.FunctionDescriptor;
import java.lang.foreign.Linker;
import java.lang.foreign.MemorySegment;
import java.lang.invoke.MethodHandle;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What Linux lets a thread ask for itself: to be woken exactly, and to stay on a processor. Elsewhere nothing is done. Sources: Linux
 * manual pages prctl(2), PR_SET_TIMERSLACK, sched_setaffinity(2), sched_setattr(2), signal(2) and setpriority(2), which on
 * Linux is of a thread; sched-eevdf.rst of the kernel.
 */
@SuppressWarnings("restricted")
public final class NativeThread {
    private static final Logger LOG = LoggerFactory.getLogger(NativeThread.class);
    private static final int SET_TIMER_SLACK = 29;
    private static final int SET_BYTES = 128;
    /** Of setpriority: by the number of a process, or here of a thread. */
    private static final int BY_NUMBER = 0;
    private static final int NICENESS = 10;
    /** Of a lane: nine times the weight of others, so that the system moves nobody to its processor; less than that of kernel threads. */
    private static final int LANE_NICENESS = -10;
    /** struct sched_attr in its first size: size, policy, flags, nice, priority, runtime, deadline, period. */
    private static final long ATTRIBUTES_BYTES = 48;
    private static final int BATCH = 3;
    private static final int IDLE = 5;
    /** The longest slice: whoever wakes with a shorter one goes first. */
    private static final long SLICE_NANOS = 100_000_000L;
    /** Number of sched_setattr; 0 on processors of which it is not known. */
    private static final long SET_ATTRIBUTES = switch (System.getProperty("os.arch", "")) {
        case "amd64" -> 314;
        case "aarch64" -> 274;
        default -> 0;
    };
    private static final Optional<MethodHandle> SYSCALL = find("syscall",
            FunctionDescriptor.of(JAVA_LONG, JAVA_LONG, JAVA_LONG, ADDRESS, JAVA_LONG),
            Linker.Option.firstVariadicArg(1));
    /** Beginnings of the names of threads that are in no hurry and start no programs. */
    private static final List<String> HELPERS = List.of("kadrem-generato", "kadrem-recorder", "kadrem-host-wat",
            "kadrem-accounts");
    private static final List<String> OF_THE_MACHINE = List.of("C1 ", "C2 ", "ZDirector", "ZDriver", "ZWorker", "ZStat",
            "ZUncommitter", "VM Periodic");
    private static final List<String> OF_THE_WINDOW = List.of("JavaFX Applicat", "QuantumRenderer", "Prism Font",
            "InvokeLater",
            "kadrem-live-vie", "VM Thread");
    private static final int INTERRUPTION = 2;
    private static final long IGNORE = 1;
    private static final Optional<MethodHandle> SIGNAL = find("signal",
            FunctionDescriptor.of(ADDRESS, JAVA_INT, ADDRESS));
    private static final File THREADS = new File("/proc/self/task");
    private static final Optional<MethodHandle> SET_PRIORITY = find("setpriority",
            FunctionDescriptor.of(JAVA_INT, JAVA_INT, JAVA_INT, JAVA_INT));
    private static final Optional<MethodHandle> PRCTL = find("prctl",
            FunctionDescriptor.of(JAVA_INT, JAVA_INT, JAVA_LONG, JAVA_LONG, JAVA_LONG, JAVA_LONG));
    private static final Optional<MethodHandle> SET_AFFINITY = find("sched_setaffinity",
            FunctionDescriptor.of(JAVA_INT, JAVA_INT, JAVA_LONG, ADDRESS));
    private static final Optional<MethodHandle> GET_AFFINITY = find("sched_getaffinity",
            FunctionDescriptor.of(JAVA_INT, JAVA_INT, JAVA_LONG, ADDRESS));

    private NativeThread() {
    }

    private static Optional<MethodHandle> find(String name, FunctionDescriptor type, Linker.Option... options) {
        if (!System.getProperty("os.name", "").equals("Linux") || ADDRESS.byteSize() != 8) {
            return Optional.empty();
        }
        Linker linker = Linker.nativeLinker();
        return linker.defaultLookup().find(name).map(symbol -> linker.downcallHandle(symbol, type, options));
    }

    /** Has the calling thread woken within a nanosecond of what it asks for, where the system can, and not within 50 µs. */
    public static void wakeExactly() {
        PRCTL.ifPresent(prctl -> {
            try {
                int _ = (int) prctl.invokeExact(SET_TIMER_SLACK, 1L, 0L, 0L, 0L);
            } catch (Throwable cause) {
                LOG.debug("the timer slack stays as it is", cause);
            }
        });
    }

    /**
     * Has a thread give way to those of usual priority; 0 for the calling one. Its new threads do so, too. Where Linux knows slices
     * (6.12 and later) it is also interrupted at once by whoever wakes, and not only when its slice of milliseconds is over.
     */
    public static boolean giveWay(int thread) {
        return setAttributes(thread, BATCH) || setPriority(thread);
    }

    private static boolean setAttributes(int thread, int policy) {
        if (SYSCALL.isEmpty() || SET_ATTRIBUTES == 0) {
            return false;
        }
        try (Arena arena = Arena.ofConfined()) {
            MemorySegment attributes = arena.allocate(ATTRIBUTES_BYTES);
            attributes.set(JAVA_INT, 0, (int) ATTRIBUTES_BYTES);
            attributes.set(JAVA_INT, 4, policy);
            attributes.set(JAVA_INT, 16, NICENESS);
            attributes.set(JAVA_LONG, 24, SLICE_NANOS);
            return (long) SYSCALL.get().invokeExact(SET_ATTRIBUTES, (long) thread, attributes, 0L) == 0;
        } catch (Throwable cause) {
            LOG.debug("the thread keeps its slice", cause);
            return false;
        }
    }

    /** Lowers the priority of a thread and no more, as befits one whose own threads talk to others in time; 0 for the calling one. */
    static boolean setPriority(int thread) {
        return setPriority(thread, NICENESS);
    }

    /**
     * Has a thread go before those of usual priority, so that the system does not put others on its processor; 0 for the calling one. Linux
     * lets only a few do so (setpriority(2): CAP_SYS_NICE, or RLIMIT_NICE of 30).
     *
     * @return whether the system did so
     */
    public static boolean goFirst(int thread) {
        return setPriority(thread, LANE_NICENESS);
    }

    /** Takes back what {@link #goFirst} gave; threads that only record and tell have to be told anew to give way. */
    public static void goAsUsual(int thread) {
        setPriority(thread, 0);
    }

    private static boolean setPriority(int thread, int niceness) {
        if (SET_PRIORITY.isEmpty()) {
            return false;
        }
        try {
            return (int) SET_PRIORITY.get().invokeExact(BY_NUMBER, thread, niceness) == 0;
        } catch (Throwable cause) {
            LOG.debug("the thread keeps its priority", cause);
            return false;
        }
    }

    /** Threads of this process, by the number that the system gives them, with the beginning of their names. */
    public static Map<Integer, String> all() {
        File[] threads = THREADS.listFiles();
        Map<Integer, String> named = new HashMap<>();
        for (File thread : threads == null ? new File[0] : threads) {
            try {
                named.put(Integer.parseInt(thread.getName()),
                        Files.readString(Path.of(thread.getPath(), "comm")).strip());
            } catch (IOException | NumberFormatException _) {
                // it has ended meanwhile
            }
        }
        return named;
    }

    /**
     * Has the threads give way that only record and tell, and those on which this virtual machine compiles and collects beside the
     * program, as they would take processors from a candidate.
     *
     * @param compiled whether what is hot is compiled, so that the rest may wait until a processor has nothing else to do: a
     *            candidate that wakes then finds that processor free
     */
    public static void letHelpersGiveWay(boolean compiled) {
        all().forEach((thread, name) -> {
            if (OF_THE_MACHINE.stream().anyMatch(name::startsWith)) {
                if (!compiled || !setAttributes(thread, IDLE)) {
                    giveWay(thread);
                }
            } else if (HELPERS.stream().anyMatch(name::startsWith)) {
                giveWay(thread);
            }
        });
    }

    /** Keeps the threads that record, tell, compile, collect and draw on some processors. */
    public static void keepHelpersOn(BitSet processors) {
        all().forEach((thread, name) -> {
            if (OF_THE_MACHINE.stream().anyMatch(name::startsWith) || HELPERS.stream().anyMatch(name::startsWith)
                    || OF_THE_WINDOW.stream().anyMatch(name::startsWith)) {
                stayOn(thread, processors);
            }
        });
    }

    /**
     * From now on an interruption from a terminal, which all processes of a group get, does not end this process (signal(2)); the one
     * that started it ends it.
     */
    public static void ignoreInterruptions() {
        SIGNAL.ifPresent(signal -> {
            try {
                MemorySegment _ = (MemorySegment) signal.invokeExact(INTERRUPTION, MemorySegment.ofAddress(IGNORE));
            } catch (Throwable cause) {
                LOG.debug("an interruption ends this process", cause);
            }
        });
    }

    /** Processors on which the calling thread may run; empty where the system does not tell. */
    public static BitSet allowed() {
        if (GET_AFFINITY.isEmpty()) {
            return new BitSet();
        }
        try (Arena arena = Arena.ofConfined()) {
            MemorySegment set = arena.allocate(SET_BYTES);
            int told = (int) GET_AFFINITY.get().invokeExact(0, (long) SET_BYTES, set);
            return told != 0 ? new BitSet() : BitSet.valueOf(set.toArray(JAVA_BYTE));
        } catch (Throwable cause) {
            LOG.debug("the processors of this thread are not known", cause);
            return new BitSet();
        }
    }

    /**
     * Keeps a thread on some processors.
     *
     * @param thread number of the thread as the system has it; 0 for the calling one
     * @return whether the system did so
     */
    public static boolean stayOn(int thread, BitSet processors) {
        byte[] bits = processors.toByteArray();
        if (SET_AFFINITY.isEmpty() || bits.length == 0 || bits.length > SET_BYTES) {
            return false;
        }
        try (Arena arena = Arena.ofConfined()) {
            MemorySegment set = arena.allocate(SET_BYTES);
            MemorySegment.copy(bits, 0, set, JAVA_BYTE, 0, bits.length);
            return (int) SET_AFFINITY.get().invokeExact(thread, (long) SET_BYTES, set) == 0;
        } catch (Throwable cause) {
            LOG.debug("the thread stays where it is", cause);
            return false;
        }
    }
}
