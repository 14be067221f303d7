package kadrem.load.drive.command;

import static java.lang.foreign.ValueLayout.ADDRESS;
import static java.lang.foreign.ValueLayout.JAVA_INT;
import static java.lang.foreign.ValueLayout.JAVA_LONG;

import java.io.FileInputStream;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.lang.foreign.Arena;
import java.lang.foreign.FunctionDescriptor;
import java.lang.foreign.Linker;
import java.lang.foreign.MemoryLayout;
import java.lang.foreign.MemorySegment;
import java.lang.foreign.SymbolLookup;
import java.lang.invoke.MethodHandle;
import java.nio.file.Path;
import java.util.List;

/**
 * A program started by {@code posix_spawnp} and waited for by {@code wait4}, which tells what exactly that program has used; the
 * JDK's own processes are waited for by the JDK, which does not ask. Linux with glibc 2.34 or later on 64 bits. Sources: POSIX.1-2017,
 * posix_spawn; Linux manual pages wait4(2) and getrusage(2); glibc manual, section 26. Its
 * memory is {@link ProgramMemory}'s.
 */
@SuppressWarnings("restricted")
final class PosixProgram implements Program {
    private static final int CLOSE_ON_EXEC = 0x80000;
    /** More than any system's {@code posix_spawn_file_actions_t}. */
    private static final long ACTIONS_BYTES = 512;
    /** {@code struct rusage}: two times of seconds and microseconds, the largest resident set in KiB, and 13 more longs. */
    private static final MemoryLayout USAGE = MemoryLayout.sequenceLayout(18, JAVA_LONG);
    private static final int PEAK = 4;
    private static final long INFORMATION_BYTES = 256;
    /** Of {@code waitid}: by the number of the process, once it has ended, and leaving it to be waited for. */
    private static final int BY_NUMBER = 1;
    private static final int ENDED = 4;
    private static final int KEEP = 0x01000000;
    private static final int FIRST_OF_NO_STREAM = 3;
    private static final Native SYSTEM = Native.find();

    private final int pid;
    private final OutputStream input;
    private final InputStream output;
    private final InputStream errors;
    private final ProgramMemory memory;
    private boolean over;

    /** The functions that are called; {@code isThere} only where all of them are. */
    private record Native(boolean isThere, MethodHandle pipe, MethodHandle close, MethodHandle spawn, MethodHandle reap,
            MethodHandle waitOnly, MethodHandle initActions, MethodHandle destroyActions, MethodHandle onto,
            MethodHandle into,
            MethodHandle closeFrom, MethodHandle describe, MemorySegment environment) {
        private static Native find() {
            Linker linker = Linker.nativeLinker();
            SymbolLookup library = linker.defaultLookup();
            var finder = new Object() {
                private boolean whole = System.getProperty("os.name", "").equals("Linux") && ADDRESS.byteSize() == 8;

                MethodHandle of(String name, FunctionDescriptor type) {
                    var symbol = library.find(name);
                    whole &= symbol.isPresent();
                    return linker.downcallHandle(symbol.orElse(MemorySegment.ofAddress(1)), type);
                }
            };
            var actions = "posix_spawn_file_actions_";
            var one = FunctionDescriptor.of(JAVA_INT, ADDRESS);
            MethodHandle pipe = finder.of("pipe2", FunctionDescriptor.of(JAVA_INT, ADDRESS, JAVA_INT));
            MethodHandle close = finder.of("close", FunctionDescriptor.of(JAVA_INT, JAVA_INT));
            MethodHandle spawn = finder.of("posix_spawnp", FunctionDescriptor.of(JAVA_INT, ADDRESS, ADDRESS, ADDRESS,
                    ADDRESS, ADDRESS, ADDRESS));
            MethodHandle reap = finder.of("wait4", FunctionDescriptor.of(JAVA_INT, JAVA_INT, ADDRESS, JAVA_INT,
                    ADDRESS));
            MethodHandle waitOnly = finder.of("waitid", FunctionDescriptor.of(JAVA_INT, JAVA_INT, JAVA_INT, ADDRESS,
                    JAVA_INT));
            MethodHandle init = finder.of(actions + "init", one);
            MethodHandle destroy = finder.of(actions + "destroy", one);
            MethodHandle onto = finder.of(actions + "adddup2", FunctionDescriptor.of(JAVA_INT, ADDRESS, JAVA_INT,
                    JAVA_INT));
            MethodHandle into = finder.of(actions + "addchdir_np", FunctionDescriptor.of(JAVA_INT, ADDRESS, ADDRESS));
            MethodHandle closeFrom = finder.of(actions + "addclosefrom_np", FunctionDescriptor.of(JAVA_INT, ADDRESS,
                    JAVA_INT));
            MethodHandle describe = finder.of("strerror", FunctionDescriptor.of(ADDRESS.withTargetLayout(
                    MemoryLayout.sequenceLayout(256, java.lang.foreign.ValueLayout.JAVA_BYTE)), JAVA_INT));
            MemorySegment environment = library.find("environ").orElse(MemorySegment.NULL);
            return new Native(finder.whole && !environment.equals(MemorySegment.NULL), pipe, close, spawn, reap,
                    waitOnly, init,
                    destroy, onto, into, closeFrom, describe, environment.reinterpret(ADDRESS.byteSize()));
        }
    }

    /** A pipe; this process's end is opened as a stream while both ends are there, so that opening does not wait. */
    private record Pipe(int reading, int writing) implements AutoCloseable {
        static Pipe open(Arena arena) throws Throwable {
            MemorySegment ends = arena.allocate(JAVA_INT, 2);
            if ((int) SYSTEM.pipe().invokeExact(ends, CLOSE_ON_EXEC) != 0) {
                throw new IOException("no pipe can be made; too many files may be open");
            }
            return new Pipe(ends.getAtIndex(JAVA_INT, 0), ends.getAtIndex(JAVA_INT, 1));
        }

        static String file(int end) {
            return "/proc/self/fd/" + end;
        }

        @Override
        public void close() {
            try {
                int _ = (int) SYSTEM.close().invokeExact(reading);
                int _ = (int) SYSTEM.close().invokeExact(writing);
            } catch (Throwable impossible) {
                throw new IllegalStateException(impossible);
            }
        }
    }

    private PosixProgram(int pid, OutputStream input, InputStream output, InputStream errors) {
        this.pid = pid;
        this.input = input;
        this.output = output;
        this.errors = errors;
        memory = ProgramMemory.watch(pid);
    }

    static boolean isPossible() {
        return SYSTEM.isThere();
    }

    static PosixProgram start(List<String> words, Path folder) throws IOException {
        try (Arena arena = Arena.ofConfined();
                Pipe in = Pipe.open(arena);
                Pipe out = Pipe.open(arena);
                Pipe err = Pipe.open(arena)) {
            var input = new FileOutputStream(Pipe.file(in.writing()));
            var output = new FileInputStream(Pipe.file(out.reading()));
            var errors = new FileInputStream(Pipe.file(err.reading()));
            MemorySegment actions = arena.allocate(ACTIONS_BYTES, Long.BYTES);
            MemorySegment pid = arena.allocate(JAVA_INT);
            int failed = (int) SYSTEM.initActions().invokeExact(actions);
            failed |= (int) SYSTEM.onto().invokeExact(actions, in.reading(), 0);
            failed |= (int) SYSTEM.onto().invokeExact(actions, out.writing(), 1);
            failed |= (int) SYSTEM.onto().invokeExact(actions, err.writing(), 2);
            failed |= (int) SYSTEM.closeFrom().invokeExact(actions, FIRST_OF_NO_STREAM);
            failed |= (int) SYSTEM.into().invokeExact(actions, arena.allocateFrom(folder.toString()));
            MemorySegment arguments = arena.allocate(ADDRESS, words.size() + 1L);
            for (int i = 0; i < words.size(); i++) {
                arguments.setAtIndex(ADDRESS, i, arena.allocateFrom(words.get(i)));
            }
            arguments.setAtIndex(ADDRESS, words.size(), MemorySegment.NULL);
            if (failed == 0) {
                failed = (int) SYSTEM.spawn().invokeExact(pid, arguments.getAtIndex(ADDRESS, 0), actions,
                        MemorySegment.NULL, arguments, SYSTEM.environment().get(ADDRESS, 0));
            }
            int _ = (int) SYSTEM.destroyActions().invokeExact(actions);
            if (failed != 0) {
                input.close();
                output.close();
                errors.close();
                MemorySegment why = (MemorySegment) SYSTEM.describe().invokeExact(failed);
                throw new IOException(words.getFirst() + ": " + why.getString(0));
            }
            return new PosixProgram(pid.get(JAVA_INT, 0), input, output, errors);
        } catch (IOException | RuntimeException | Error cause) {
            throw cause;
        } catch (Throwable impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    @Override
    public OutputStream input() {
        return input;
    }

    @Override
    public InputStream output() {
        return output;
    }

    @Override
    public InputStream errors() {
        return errors;
    }

    @Override
    public Ended await() {
        try (Arena arena = Arena.ofConfined()) {
            MemorySegment status = arena.allocate(JAVA_INT);
            MemorySegment usage = arena.allocate(USAGE);
            MemorySegment ignored = arena.allocate(INFORMATION_BYTES, Long.BYTES);
            while ((int) SYSTEM.waitOnly().invokeExact(BY_NUMBER, pid, ignored, ENDED | KEEP) != 0
                    && ProcessHandle.of(pid).isPresent()) {
                // a signal to this process has interrupted the wait
            }
            // its number may be another's once it has been waited for
            memory.end();
            synchronized (this) {
                int _ = (int) SYSTEM.reap().invokeExact(pid, status, 0, usage);
                over = true;
            }
            int told = status.get(JAVA_INT, 0);
            int signal = told & 0x7f;
            long seconds = usage.getAtIndex(JAVA_LONG, 0) + usage.getAtIndex(JAVA_LONG, 2);
            long micros = usage.getAtIndex(JAVA_LONG, 1) + usage.getAtIndex(JAVA_LONG, 3);
            return new Ended(signal == 0 ? told >> 8 & 0xff : 128 + signal,
                    seconds * 1_000_000_000L + micros * 1_000L, memory.known(usage.getAtIndex(JAVA_LONG, PEAK) * 1024));
        } catch (Throwable impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** Its number is kept from others until it has been waited for. */
    @Override
    public synchronized void end() {
        if (!over) {
            ProcessHandle.of(pid).ifPresent(process -> {
                process.descendants().forEach(ProcessHandle::destroyForcibly);
                process.destroyForcibly();
            });
        }
    }
}
