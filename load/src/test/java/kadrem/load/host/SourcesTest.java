package kadrem.load.host;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.DriverManager;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;

import kadrem.core.measure.WatchReading;
import kadrem.core.stats.RobustZ;
import kadrem.core.study.WatchSource;
import kadrem.fixtures.Ports;
import kadrem.fixtures.Programs;
import kadrem.load.drive.Secrets;
import kadrem.load.host.local.ControlGroup;
import kadrem.load.host.local.JavaMachine;
import kadrem.load.host.local.OwnHost;
import kadrem.load.host.local.ProcessTree;
import kadrem.load.host.remote.HostKeys;
import kadrem.standins.host.MadeUpHost;
import kadrem.standins.host.MetricsStandIn;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Isolated;

/** The sources on this host and those that count by themselves, each against something real. */
@Isolated
class SourcesTest {
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();

    @TempDir
    private Path folder;
    private final List<Process> processes = new ArrayList<>();

    @AfterEach
    void stop() {
        processes.forEach(process -> {
            process.descendants().forEach(ProcessHandle::destroyForcibly);
            process.destroyForcibly();
        });
    }

    private Process start(String... command) throws IOException {
        Process process = new ProcessBuilder(command).redirectErrorStream(true)
                .redirectOutput(folder.resolve("output").toFile()).start();
        processes.add(process);
        return process;
    }

    private HostSources sources(OptionalLong launched) {
        return new HostSources(folder, new Secrets(Map.of(), folder), HostKeys.ofUser(), () -> launched);
    }

    private static Map<String, Double> values(HostSource source) throws SourceFailure {
        var map = new HashMap<String, Double>();
        source.read().forEach(value -> map.put(value.series().name(), value.value()));
        return map;
    }

    private static void letPass(long millis) {
        long until = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(millis);
        while (System.nanoTime() < until) {
            java.util.concurrent.locks.LockSupport.parkNanos(until - System.nanoTime());
        }
    }

    /** A process that burns one core reads 100 % of it, within 5. What the machine below took it could not burn. */
    @Test
    void aProcessThatBurnsOneCoreReadsAHundredPerCent() throws Exception {
        Assumptions.assumeTrue(Programs.isThere(Path.of("/usr/bin/taskset")), "needs taskset");
        Process burner = start("taskset", "-c", "1", "sh", "-c", "while :; do :; done");
        var seen = new ArrayList<String>();
        try (ProcessTree tree = ProcessTree.of("burner", Long.toString(burner.pid()), folder);
                OwnHost host = new OwnHost()) {
            tree.read();
            host.read();
            for (int i = 0; i < 5; i++) {
                letPass(2_000);
                Map<String, Double> all = values(host);
                double cpu = values(tree).get("CPU");
                if (all.get("taken by the machine below") < 1) {
                    assertThat(cpu).isCloseTo(100, within(5.0));
                    assertThat(all.get("CPU")).isGreaterThan(90.0 / Runtime.getRuntime().availableProcessors());
                    return;
                }
                seen.add(cpu + " with " + all.get("taken by the machine below") + " % taken away");
            }
        }
        Assumptions.abort("the machine below takes too much of this one's time: " + seen);
    }

    @Test
    void aProcessIsFoundByItsFileAndItsEndIsTold() throws Exception {
        Process process = start("sh", "-c", "read line");
        Path file = Files.writeString(folder.resolve("board.pid"), process.pid() + "\n");
        try (HostSource source = sources(OptionalLong.empty())
                .of(new WatchSource.ProcessTree("board", file.getFileName().toString())).opening().open()) {
            assertThat(values(source)).containsKeys("memory", "threads", "open files").doesNotContainKey("CPU");
            process.destroyForcibly().waitFor();
            assertThatThrownBy(source::read).isInstanceOf(SourceFailure.class).hasMessageContaining("has ended");
        }
        assertThatThrownBy(() -> ProcessTree.of("board", "no-such-file", folder))
                .hasMessageContaining("neither a process id nor a file");
        assertThatThrownBy(() -> ProcessTree.of("board", "999999999", folder)).hasMessageContaining("no process");
    }

    /** Files as the kernel's documentation (admin-guide/cgroup-v2) describes them; between the readings a second passes. */
    @Test
    void aControlGroupTellsItsThrottling() throws Exception {
        Files.writeString(folder.resolve("cpu.stat"), "usage_usec 1000000\nuser_usec 900000\nsystem_usec 100000\n"
                + "nr_periods 10\nnr_throttled 0\nthrottled_usec 0\n");
        Files.writeString(folder.resolve("memory.current"), "104857600\n");
        Files.writeString(folder.resolve("memory.events"), "low 0\nhigh 0\nmax 0\noom 0\noom_kill 0\n");
        Files.writeString(folder.resolve("io.stat"), "8:0 rbytes=0 wbytes=4096 rios=0 wios=1 dbytes=0 dios=0\n"
                + "8:16 rbytes=0 wbytes=0 rios=0 wios=0 dbytes=0 dios=0\n");
        Files.writeString(folder.resolve("pids.current"), "12\n");
        try (ControlGroup group = ControlGroup.of("slice", folder.toString())) {
            assertThat(values(group)).containsEntry("memory", 104857600.0).containsEntry("threads", 12.0);
            letPass(1_000);
            Files.writeString(folder.resolve("cpu.stat"), "usage_usec 1500000\nuser_usec 1300000\n"
                    + "system_usec 200000\nnr_periods 20\nnr_throttled 6\nthrottled_usec 300000\n");
            Files.writeString(folder.resolve("io.stat"), "8:0 rbytes=0 wbytes=1048576 rios=0 wios=9 dbytes=0 dios=0\n");
            Map<String, Double> values = values(group);
            assertThat(values.get("CPU")).isCloseTo(50, within(5.0));
            assertThat(values.get("throttled")).isCloseTo(30, within(3.0));
            assertThat(values.get("throttled periods")).isCloseTo(6, within(0.6));
            assertThat(values.get("disk written")).isCloseTo(1044480, within(1e5));
        }
        assertThatThrownBy(() -> ControlGroup.of("slice", folder.resolve("none").toString()))
                .hasMessageContaining("there is no control group");
        Path empty = Files.createDirectory(folder.resolve("empty"));
        assertThatThrownBy(() -> ControlGroup.of("slice", empty.toString())).hasMessageContaining("version 2");
    }

    /** A real group with a quota of a fifth of a core, in which a process wants a whole one. */
    @Test
    void aRealControlGroupIsHeldBackByItsQuota() throws Exception {
        Optional<Path> root = List.of(Path.of("/sys/fs/cgroup"), Path.of("/sys/fs/cgroup/unified")).stream()
                .filter(one -> has(one.resolve("cgroup.controllers"), "cpu")).findFirst();
        Assumptions.assumeTrue(root.isPresent() && Files.isWritable(root.get()),
                "needs control groups of version 2 with the controller cpu, and the right to make one");
        Path group = root.get().resolve("kadrem-test-" + ProcessHandle.current().pid());
        try {
            if (!has(root.get().resolve("cgroup.subtree_control"), "cpu")) {
                Files.writeString(root.get().resolve("cgroup.subtree_control"), "+cpu");
            }
            Files.createDirectory(group);
            Files.writeString(group.resolve("cpu.max"), "20000 100000");
        } catch (IOException cause) {
            Assumptions.abort("a control group cannot be made here: " + cause.getMessage());
        }
        try (ControlGroup source = ControlGroup.of("slice", group.toString())) {
            Process burner = start("sh", "-c", "while :; do :; done");
            Files.writeString(group.resolve("cgroup.procs"), Long.toString(burner.pid()));
            source.read();
            letPass(2_000);
            Map<String, Double> values = values(source);
            assertThat(values.get("CPU")).isCloseTo(20, within(5.0));
            assertThat(values.get("throttled")).isGreaterThan(40);
            burner.destroyForcibly().waitFor();
        } finally {
            for (int i = 0; i < 50 && Files.exists(group); i++) {
                try {
                    Files.delete(group);
                } catch (IOException _) {
                    letPass(50);
                }
            }
        }
    }

    private static boolean has(Path file, String word) {
        try {
            return Files.isReadable(file) && List.of(Files.readString(file).strip().split("\\s+")).contains(word);
        } catch (IOException _) {
            return false;
        }
    }

    /** A virtual machine of its own: half of its threads wait for a lock that one holds. */
    static final class Locked {
        private Locked() {
        }

        public static void main(String[] arguments) throws InterruptedException {
            for (int i = 0; i < 5; i++) {
                Thread.ofPlatform().daemon().start(() -> {
                    synchronized (Locked.class) {
                        while (true) {
                            java.util.concurrent.locks.LockSupport.park();
                        }
                    }
                });
            }
            Thread.sleep(java.time.Duration.ofMinutes(5));
        }
    }

    @Test
    void aVirtualMachineIsReadByAttachingAndThroughItsPort() throws Exception {
        int port = Ports.free();
        Process machine = start(JAVA, "-Xmx64m", "-Dcom.sun.management.jmxremote.port=" + port,
                "-Dcom.sun.management.jmxremote.host=127.0.0.1", "-Djava.rmi.server.hostname=127.0.0.1",
                "-Dcom.sun.management.jmxremote.authenticate=false", "-Dcom.sun.management.jmxremote.ssl=false", "-cp",
                System.getProperty("java.class.path"), Locked.class.getName());
        try (HostSource attached = opened(() -> JavaMachine.attached("jvm", OptionalLong.of(machine.pid())));
                HostSource connected = opened(() -> JavaMachine.at("jvm", "127.0.0.1:" + port))) {
            for (HostSource source : List.of(attached, connected)) {
                Map<String, Double> values = values(source);
                for (int i = 0; i < 100 && values.get("threads that wait for a lock") < 4; i++) {
                    letPass(50);
                    values = values(source);
                }
                assertThat(values.get("threads that wait for a lock")).isEqualTo(4);
                assertThat(values.get("heap in use")).isBetween(1e5, 64.0 * (1 << 20));
                assertThat(values.get("threads")).isGreaterThan(5);
            }
            letPass(100);
            assertThat(values(attached)).containsKeys("CPU", "garbage collection");
            machine.destroyForcibly().waitFor();
            assertThatThrownBy(attached::read).isInstanceOf(SourceFailure.class)
                    .hasMessageContaining("does not answer");
        }
        assertThatThrownBy(() -> JavaMachine.at("jvm", "127.0.0.1:" + port)).isInstanceOf(SourceFailure.class)
                .hasMessageContaining("no management connection");
        assertThatThrownBy(() -> JavaMachine.attached("jvm", OptionalLong.empty()))
                .hasMessageContaining("was not launched");
        Process other = start("sh", "-c", "read line");
        assertThatThrownBy(() -> JavaMachine.attached("jvm", OptionalLong.of(other.pid())))
                .hasMessageContaining("no Java virtual machine");
    }

    /** A machine that is just starting does not answer yet. */
    private static HostSource opened(HostSource.Opening opening) throws SourceFailure {
        for (int i = 0;; i++) {
            try {
                return opening.open();
            } catch (SourceFailure failure) {
                if (i == 100) {
                    throw failure;
                }
                letPass(100);
            }
        }
    }

    @Test
    void chosenMetricsAreAddedUpAndTotalsBecomeRates() throws Exception {
        try (MetricsStandIn endpoint = MetricsStandIn.start(0,
                new MadeUpHost(System::nanoTime, System::currentTimeMillis))) {
            String address = "http://127.0.0.1:" + endpoint.port() + "/metrics";
            var choice = List.of(new WatchSource.MetricsEndpoint.Choice("board_commits_total", "commits", "disk"),
                    new WatchSource.MetricsEndpoint.Choice("board_commits_total{table=\"tides\"}", "", "custom"),
                    new WatchSource.MetricsEndpoint.Choice("board_cache_bytes", "", "memory"));
            HostSources sources = sources(OptionalLong.empty());
            try (HostSource source = sources.of(new WatchSource.MetricsEndpoint("board", address, choice)).opening()
                    .open()) {
                source.read();
                letPass(1_000);
                List<WatchReading.Value> values = source.read();
                assertThat(values).extracting(value -> value.series().unit()).containsExactly("commits/s", "/s",
                        "bytes");
                assertThat(values.get(0).value()).isCloseTo(MadeUpHost.COMMITS_PER_SECOND, within(4.0));
                assertThat(values.get(1).value()).isCloseTo(MadeUpHost.COMMITS_PER_SECOND / 4.0, within(2.0));
                assertThat(values.get(2).value()).isEqualTo(192.0 * (1 << 20));
            }
            var none = List.of(new WatchSource.MetricsEndpoint.Choice("no_such", "", "custom"));
            try (HostSource source = sources.of(new WatchSource.MetricsEndpoint("board", address, none)).opening()
                    .open()) {
                assertThatThrownBy(source::read).hasMessageContaining("none of the chosen series is among the 4");
            }
            try (HostSource source = sources
                    .of(new WatchSource.MetricsEndpoint("board", address.replace("/metrics", "/none"), choice))
                    .opening().open()) {
                assertThatThrownBy(source::read).hasMessageContaining("404");
            }
            var wrong = List.of(new WatchSource.MetricsEndpoint.Choice("{a}", "", "custom"));
            assertThatThrownBy(() -> sources.of(new WatchSource.MetricsEndpoint("board", address, wrong)).opening()
                    .open()).hasMessageContaining("is not like");
        }
    }

    @Test
    void aDatabaseTellsByColumnsAndByRows() throws Exception {
        String database = "jdbc:h2:mem:counters;DB_CLOSE_DELAY=-1";
        try (var connection = DriverManager.getConnection(database); var statement = connection.createStatement()) {
            statement.execute("create table counted(name varchar(20), number bigint)");
            statement.execute("insert into counted values('commits', 100), ('open', 7)");
            HostSources sources = sources(OptionalLong.empty());
            var rows = new WatchSource.Counters("db", database, "", "", "select name, number from counted",
                    List.of("commits"));
            var columns = new WatchSource.Counters("db", database, "", "",
                    "select sum(number) as total, count(*) as kinds from counted", List.of());
            try (HostSource byRows = sources.of(rows).opening().open();
                    HostSource byColumns = sources.of(columns).opening().open()) {
                assertThat(values(byRows)).containsOnlyKeys("open").containsEntry("open", 7.0);
                assertThat(values(byColumns)).containsEntry("TOTAL", 107.0).containsEntry("KINDS", 2.0);
                letPass(500);
                statement.execute("update counted set number = 150 where name = 'commits'");
                assertThat(values(byRows).get("commits")).isBetween(50.0, 101.0);
                statement.execute("drop table counted");
                assertThatThrownBy(byRows::read).isInstanceOf(SourceFailure.class).hasMessageContaining("query fails");
            }
            assertThatThrownBy(() -> sources.of(rows).opening().open()).isInstanceOf(SourceFailure.class)
                    .hasMessageContaining("cannot be asked");
        }
        assertThatThrownBy(() -> sources(OptionalLong.empty()).of(new WatchSource.Counters("db", "jdbc:none:x", "", "",
                "select 1", List.of())).opening().open()).hasMessageContaining("cannot be asked");
    }

    /** Of a source that takes longer than the time between two readings the next is due one such time later, and not a second. */
    @Test
    void aSlowSourceIsReadOftenAtRest() throws Exception {
        var slow = new Watching.Source("slow", "x", "", () -> new HostSource() {
            @Override
            public List<WatchReading.Value> read() {
                java.util.concurrent.locks.LockSupport.parkNanos(TimeUnit.MILLISECONDS.toNanos(300));
                return List.of();
            }

            @Override
            public void close() {
                // holds nothing open
            }
        });
        var idle = Duration.ofSeconds(4);
        try (Watching watching = Watching.begin(List.of(slow), idle)) {
            watching.rest(idle);
            // 286 ms between two, each of 300 ms: seven in four seconds, and four if each missed one cost a second
            assertThat(watching.end().getFirst().readings()).isGreaterThanOrEqualTo(6);
        }
    }

    /** One source hangs, one fails, one breaks down: the fourth is read once a second all the same. */
    @Test
    void sourcesDoNotHoldEachOtherUp() throws Exception {
        BlockingQueue<WatchReading> told = new LinkedBlockingQueue<>();
        var hang = new Watching.Source("hangs", "x", "", () -> {
            while (!Thread.interrupted()) {
                java.util.concurrent.locks.LockSupport.park();
            }
            throw new SourceFailure("interrupted");
        });
        var fail = new Watching.Source("fails", "x", "", () -> {
            throw new SourceFailure("nobody is there");
        });
        var broken = new Watching.Source("breaks", "x", "", () -> {
            throw new IllegalStateException("a fault of Kadrem");
        });
        var host = new Watching.Source(OwnHost.NAME, "host", "", OwnHost::new);
        long begun = System.nanoTime();
        try (Watching watching = Watching.begin(List.of(hang, fail, broken, host), Duration.ZERO)) {
            letPass(3_200);
            assertThat(told).as("nobody is told before the run's clock begins").isEmpty();
            watching.on(begun + TimeUnit.SECONDS.toNanos(3), 0, told::add);
            letPass(1_000);
            var how = watching.end();
            assertThat(how.get(1).troubles()).first().satisfies(
                    trouble -> assertThat(trouble.reason()).isEqualTo("nobody is there"));
            assertThat(how.get(3).readings()).isGreaterThanOrEqualTo(3);
            assertThat(how.get(3).troubles()).isEmpty();
        }
        List<WatchReading> own = told.stream().filter(one -> one.source().equals(OwnHost.NAME)).toList();
        assertThat(own.getFirst().at()).as("the idle stretch is before 0").isNegative();
        double[] steps = new double[own.size() - 1];
        for (int i = 0; i < steps.length; i++) {
            steps[i] = own.get(i + 1).at() - own.get(i).at();
        }
        assertThat(RobustZ.median(steps)).isCloseTo(1, within(0.5));
        assertThat(told).anySatisfy(one -> assertThat(one.trouble()).contains("a fault of Kadrem"));
    }
}
