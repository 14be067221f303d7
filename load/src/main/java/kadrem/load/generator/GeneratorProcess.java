package kadrem.load.generator;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.BufferedReader;
import java.io.File;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Collectors;

import kadrem.core.study.Address;
import kadrem.core.study.Pacing;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadSession;
import kadrem.load.host.NativeThread;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The process of the load, started when the first load is asked for and kept until it is closed, so that all candidates of a
 * campaign meet the same compiled code. Candidates that are libraries of this process, such as a database in its memory, are asked from
 * this process. Where the other one dies, the load under way breaks down and the next one gets a new process. Thread-safe.
 */
public final class GeneratorProcess implements LoadMaker, AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(GeneratorProcess.class);
    private static final Logger SAID = LoggerFactory.getLogger("kadrem.generator");
    /** Property that names the folder of the process's libraries, and the file of its compiled code. */
    private static final String LIBRARIES = "kadrem.generator.libraries";
    private static final String CACHE = "kadrem.generator.cache";
    private static final long ENDING_SECONDS = 5;

    private final Map<Integer, RemoteLoad> sessions = new ConcurrentHashMap<>();
    private final AtomicInteger numbers = new AtomicInteger();
    /** Processors that this process may use. */
    private final BitSet allowed = NativeThread.allowed();
    private @Nullable Process process;
    private volatile @Nullable Frames frames;

    /**
     * How a load would be made on this host, as in "1 lane in a process of its own, never sleeping, on processor 3, …".
     *
     * @param waitsOnThreads whether threads that wait for answers make the calls, and not the lanes
     */
    public static String arrangement(int lanes, Optional<Pacing> chosen, List<Integer> candidates,
            boolean waitsOnThreads) {
        return Places.ofThisHost().words(lanes, chosen, candidates, waitsOnThreads);
    }

    /** The command that starts it, as the installation that runs here has it. */
    static List<String> command() {
        var command = new ArrayList<String>();
        command.add(Path.of(System.getProperty("java.home", ""), "bin", "java").toString());
        command.addAll(List.of("--enable-native-access=ALL-UNNAMED", "--sun-misc-unsafe-memory-access=allow",
                // pauses of this collector are short where little lives, and it has no threads of its own
                "-XX:+UseSerialGC", "-Xms256m", "-Xmn128m", "-Xmx2g", "-XX:-UsePerfData", "-Dfile.encoding=UTF-8",
                "-Dlogback.statusListenerClass=ch.qos.logback.core.status.NopStatusListener",
                "-Dlogback.configurationFile=kadrem/load/generator/logback.xml"));
        // what the virtual machine says of itself must not come between the frames
        command.addAll(List.of("-Xlog:disable", "-Xlog:all=warning:stderr"));
        cache().ifPresent(file -> command.add("-XX:AOTCache=" + file));
        command.addAll(List.of("-cp", classPath(), Generator.class.getName()));
        return command;
    }

    /** Compiled code and profiles of an earlier practice, where the build has made them. */
    private static Optional<Path> cache() {
        return Optional.ofNullable(System.getProperty(CACHE)).map(Path::of)
                .filter(Files::isRegularFile);
    }

    /**
     * The libraries of the folder that the installation names, always in the same order, since a cache of compiled code is made for
     * one class path; else what this process has.
     */
    private static String classPath() {
        String own = System.getProperty("java.class.path", "");
        Optional<Path> folder = Optional.ofNullable(System.getProperty(LIBRARIES)).map(Path::of)
                .filter(Files::isDirectory);
        if (folder.isEmpty()) {
            return own;
        }
        try (var files = Files.list(folder.get())) {
            return files.map(Path::toString).filter(name -> name.endsWith(".jar")).sorted()
                    .collect(Collectors.joining(File.pathSeparator));
        } catch (IOException cause) {
            LOG.warn("the libraries of the process of the load", cause);
            return own;
        }
    }

    @Override
    public LoadSession prepare(LoadOrder order, Secrets secrets, LoadListener listener) throws UnusableCall {
        if (!order.addresses().stream().allMatch(Address::hasPort)) {
            // the candidate is a library of this process, or a program that it starts: its data is here
            return LocalLoad.MAKER.prepare(order, secrets, listener);
        }
        start();
        int number = numbers.incrementAndGet();
        var load = new RemoteLoad(number, this, order, listener);
        sessions.put(number, load);
        tell(new Message.Prepare(number, order, secrets.folder().toAbsolutePath().toString()));
        load.awaitPrepared();
        NativeThread.letHelpersGiveWay(true);
        leaveLanes();
        return load;
    }

    private synchronized void start() {
        Process known = process;
        if (known != null && known.isAlive()) {
            return;
        }
        try {
            Process started = new ProcessBuilder(command()).start();
            process = started;
            var stream = new Frames(new BufferedInputStream(started.getInputStream()),
                    new BufferedOutputStream(started.getOutputStream()));
            frames = stream;
            Thread.ofPlatform().name("kadrem-generator-reader").daemon().start(() -> read(started, stream));
            Thread.ofPlatform().name("kadrem-generator-errors").daemon().start(() -> log(started));
        } catch (IOException cause) {
            throw new IllegalStateException("the process of the load cannot be started: " + cause.getMessage(), cause);
        }
    }

    private void read(Process from, Frames stream) {
        String reason = "";
        try {
            for (var next = stream.next(); next.isPresent(); next = stream.next()) {
                take(next.get());
            }
        } catch (IOException | RuntimeException cause) {
            LOG.error("the process of the load cannot be understood", cause);
            reason = String.valueOf(cause.getMessage());
            from.destroyForcibly();
        }
        String why = reason.isEmpty() ? "it ended" + code(from) : reason;
        sessions.values().forEach(load -> load.breakDown(why));
    }

    private static String code(Process ended) {
        try {
            return ended.waitFor(ENDING_SECONDS, TimeUnit.SECONDS) ? " with " + ended.exitValue() : "";
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
            return "";
        }
    }

    private void take(Frames.Frame frame) throws IOException {
        if (frame.kind() == Frames.SECOND) {
            RemoteLoad load = sessions.get(frame.session());
            if (load != null) {
                load.take(frame);
            }
            return;
        }
        Message message = MessageJson.read(frame.bytes());
        RemoteLoad load = sessions.get(message.session());
        if (load != null) {
            load.take(message);
        }
    }

    private static void log(Process from) {
        try (var lines = new BufferedReader(
                new InputStreamReader(from.getErrorStream(), StandardCharsets.UTF_8))) {
            for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                if (line.startsWith("WARN") || line.startsWith("ERROR")) {
                    SAID.warn("{}", line);
                } else {
                    SAID.info("{}", line);
                }
            }
        } catch (IOException _) {
            // it has ended
        }
    }

    void tell(Message message) {
        Frames stream = frames;
        RemoteLoad load = sessions.get(message.session());
        if (stream == null) {
            if (load != null) {
                load.breakDown("it was ended");
            }
            return;
        }
        try {
            stream.send(message);
        } catch (IOException cause) {
            LOG.debug("the process of the load has gone", cause);
            if (load != null) {
                load.breakDown("it takes no orders any more");
            }
        }
    }

    /** Keeps those threads of this process that start no programs away from the processors that lanes have for themselves. */
    private void leaveLanes() {
        BitSet rest = (BitSet) allowed.clone();
        sessions.values().forEach(load -> load.processors().forEach(rest::clear));
        NativeThread.keepHelpersOn(rest);
    }

    void forget(int session) {
        sessions.remove(session);
        leaveLanes();
    }

    /** Id of the process; empty before the first load and after the last. */
    public synchronized OptionalLong pid() {
        Process known = process;
        return known != null && known.isAlive() ? OptionalLong.of(known.pid()) : OptionalLong.empty();
    }

    /** Ends the process; the loads under way break down. */
    synchronized void end(String why) {
        Process known = process;
        if (known != null && known.isAlive()) {
            LOG.warn("the process of the load is ended: {}", why);
            known.destroyForcibly();
        }
    }

    @Override
    public synchronized void close() {
        Process known = process;
        process = null;
        frames = null;
        if (known == null) {
            return;
        }
        try {
            known.getOutputStream().close();
        } catch (IOException _) {
            // then it has gone
        }
        try {
            if (!known.waitFor(ENDING_SECONDS, TimeUnit.SECONDS)) {
                known.destroyForcibly();
            }
        } catch (InterruptedException _) {
            known.destroyForcibly();
            Thread.currentThread().interrupt();
        }
    }
}
