package kadrem.load.host.local;

import java.io.IOException;
import java.lang.Thread.State;
import java.lang.management.GarbageCollectorMXBean;
import java.lang.management.ManagementFactory;
import java.lang.management.MemoryMXBean;
import java.lang.management.ThreadInfo;
import java.lang.management.ThreadMXBean;
import java.lang.reflect.UndeclaredThrowableException;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.stream.Stream;

import javax.management.MBeanServerConnection;
import javax.management.remote.JMXConnector;
import javax.management.remote.JMXConnectorFactory;
import javax.management.remote.JMXServiceURL;

import com.sun.management.OperatingSystemMXBean;
import com.sun.tools.attach.AttachNotSupportedException;
import com.sun.tools.attach.VirtualMachine;
import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;
import kadrem.load.host.HostSource;
import kadrem.load.host.Series;
import kadrem.load.host.SourceFailure;

/** A Java virtual machine through its management connection. Virtual threads are not among the threads it tells of. */
public final class JavaMachine implements HostSource {
    /** Innermost frames of a thread that waits for bytes of a connection, in the JDK's own classes. */
    private static final Set<String> NETWORK_READS = Set.of("sun.nio.ch.SocketDispatcher.read0",
            "sun.nio.ch.Net.poll", "sun.nio.ch.UnixDomainSockets.read", "java.net.SocketInputStream.socketRead0");

    private final Series series;
    private final JMXConnector connector;
    private final MemoryMXBean memory;
    private final ThreadMXBean threads;
    private final OperatingSystemMXBean system;
    private final List<GarbageCollectorMXBean> collectors;

    private JavaMachine(String name, JMXConnector connector) throws IOException {
        series = new Series(name);
        this.connector = connector;
        MBeanServerConnection beans = connector.getMBeanServerConnection();
        memory = ManagementFactory.getPlatformMXBean(beans, MemoryMXBean.class);
        threads = ManagementFactory.getPlatformMXBean(beans, ThreadMXBean.class);
        system = ManagementFactory.getPlatformMXBean(beans, OperatingSystemMXBean.class);
        collectors = ManagementFactory.getPlatformMXBeans(beans, GarbageCollectorMXBean.class);
    }

    /** Connects to the management port at {@code address}, host and port. */
    public static JavaMachine at(String name, String address) throws SourceFailure {
        return connect(name, "service:jmx:rmi:///jndi/rmi://" + address + "/jmxrmi", "at " + address);
    }

    /** Attaches to the virtual machine among {@code pid} and its descendants. */
    public static JavaMachine attached(String name, OptionalLong pid) throws SourceFailure {
        if (pid.isEmpty()) {
            throw new SourceFailure("the candidate was not launched, so there is no process to attach to");
        }
        List<ProcessHandle> tree = ProcessHandle.of(pid.getAsLong()).stream()
                .flatMap(root -> Stream.concat(Stream.of(root), root.descendants())).toList();
        Set<String> machines = Set.copyOf(VirtualMachine.list().stream().map(one -> one.id()).toList());
        Optional<String> found = tree.stream().map(one -> Long.toString(one.pid())).filter(machines::contains)
                .findFirst();
        if (found.isEmpty()) {
            throw new SourceFailure(
                    "no Java virtual machine that one may attach to is among the candidate's processes");
        }
        try {
            VirtualMachine machine = VirtualMachine.attach(found.get());
            try {
                return connect(name, machine.startLocalManagementAgent(), "in process " + found.get());
            } finally {
                machine.detach();
            }
        } catch (AttachNotSupportedException | IOException cause) {
            throw new SourceFailure("cannot attach to the Java virtual machine in process " + found.get() + ": "
                    + cause.getMessage(), cause);
        }
    }

    /** What the connection may bring is limited by {@link Unmarshalling}. */
    @SuppressWarnings("BanJNDI")
    private static JavaMachine connect(String name, String url, String where) throws SourceFailure {
        Unmarshalling.guard();
        try {
            return new JavaMachine(name, JMXConnectorFactory.connect(new JMXServiceURL(url)));
        } catch (IOException | SecurityException cause) {
            throw new SourceFailure("no management connection to the Java virtual machine " + where + ": "
                    + Objects.toString(cause.getMessage(), cause.toString()).lines().findFirst().orElse(""), cause);
        }
    }

    @Override
    public List<WatchReading.Value> read() throws SourceFailure {
        try {
            series.at(System.nanoTime());
            series.rate("CPU", "% of a core", SeriesRole.CPU, system.getProcessCpuTime() / 1e7);
            series.level("heap in use", "bytes", SeriesRole.MEMORY, memory.getHeapMemoryUsage().getUsed());
            series.level("outside the heap", "bytes", SeriesRole.MEMORY, memory.getNonHeapMemoryUsage().getUsed());
            series.rate("garbage collection", "% of the time", SeriesRole.MEMORY,
                    collectors.stream().mapToLong(GarbageCollectorMXBean::getCollectionTime).sum() / 10.0);
            threads();
            return series.values();
        } catch (UndeclaredThrowableException cause) {
            Throwable why = cause.getCause() == null ? cause : cause.getCause();
            throw new SourceFailure("the Java virtual machine does not answer: " + why.getMessage(), cause);
        }
    }

    private void threads() {
        ThreadInfo[] infos = threads.getThreadInfo(threads.getAllThreadIds(), 1);
        List<ThreadInfo> alive = Arrays.stream(infos).filter(Objects::nonNull).toList();
        series.level("threads", "threads", SeriesRole.THREADS, alive.size());
        series.level("threads that wait for a lock", "threads", SeriesRole.THREADS,
                alive.stream().filter(JavaMachine::waitsForLock).count());
        series.level("threads that read from a connection", "threads", SeriesRole.THREADS,
                alive.stream().filter(JavaMachine::readsFromNetwork).count());
    }

    private static boolean waitsForLock(ThreadInfo thread) {
        return thread.getThreadState() == State.BLOCKED || thread.getLockOwnerId() >= 0;
    }

    private static boolean readsFromNetwork(ThreadInfo thread) {
        StackTraceElement[] stack = thread.getStackTrace();
        return stack.length > 0 && NETWORK_READS.contains(stack[0].getClassName() + "." + stack[0].getMethodName());
    }

    @Override
    public void close() {
        try {
            connector.close();
        } catch (IOException _) {
            // it was lost before
        }
    }
}
