package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.stream.Stream;

import kadrem.core.measure.RunJournal;
import kadrem.core.measure.Soundness;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.UnusableCall;
import kadrem.load.engine.LoadOrder;
import kadrem.load.generator.LocalLoad;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.Isolated;

/**
 * Generator and candidate as processes of their own, each pinned to one processor; then one of the two has to share its
 * processor with others that burn it. The run tells whose fault it is.
 */
@Isolated
class StarvationTest {
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();
    private static final int BURNERS = 3;
    private static final int TRIES = 3;
    /** So few that also a candidate with a quarter of a slow processor keeps up. */
    private static final double RATE = 100;
    private final List<Process> processes = new ArrayList<>();

    @AfterEach
    void stop() {
        processes.forEach(process -> {
            process.descendants().forEach(ProcessHandle::destroyForcibly);
            process.destroyForcibly();
        });
    }

    /** The generator's process: one run, whose broken rules it prints. */
    static final class Generator {
        private Generator() {
        }

        public static void main(String[] arguments) throws UnusableCall {
            var load = new LoadProfile.Open(RATE, LoadProfile.Spacing.CONSTANT, 32, Duration.ofSeconds(2),
                    Duration.ofSeconds(Integer.parseInt(arguments[1])), Duration.ofSeconds(5));
            var workload = new Workload(List.of(), List.of(new Visit("v", 1, List.of(Call.of("c", "GET", "/c")))));
            var order = new LoadOrder(new Address("127.0.0.1", Integer.parseInt(arguments[0]), ""), Access.OPEN,
                    workload, load, 1, 1);
            var telling = new MeasuredRun.Telling(RunJournal.NOT_KEPT, _ -> {
            }, Map.of(), java.util.Set.of(kadrem.core.study.Metric.P99), 0);
            try (MeasuredRun run = MeasuredRun.prepare(LocalLoad.MAKER, order, OptionalLong.empty(), () -> true,
                    telling,
                    new Secrets(Map.of(), Path.of("")))) {
                MeasuredRun.Result result = run.run();
                System.out.println("median " + result.figures().service().p50());
                result.soundness().stream().filter(finding -> !finding.ok()).map(Soundness.Finding::rule)
                        .forEach(rule -> System.out.println("broken " + rule));
            }
        }
    }

    /** The candidate's process: each answer takes some work. */
    static final class Working {
        private Working() {
        }

        public static void main(String[] arguments) throws IOException {
            try (var listener = new ServerSocket(Integer.parseInt(arguments[0]), 256,
                    InetAddress.getLoopbackAddress())) {
                while (true) {
                    Socket socket = listener.accept();
                    Thread.ofPlatform().daemon().start(() -> serve(socket));
                }
            }
        }

        private static void serve(Socket socket) {
            try (socket) {
                var in = new java.io.BufferedInputStream(socket.getInputStream());
                int end = 0;
                for (int b = in.read(); b >= 0; b = in.read()) {
                    end = b == '\r' || b == '\n' ? end + 1 : 0;
                    if (end == 4) {
                        long x = 1;
                        for (int i = 0; i < 400_000; i++) {
                            x = x * 6364136223846793005L + 1442695040888963407L;
                        }
                        socket.getOutputStream().write(("HTTP/1.1 200 OK\r\nContent-Length: 1\r\n\r\n" + (x & 1))
                                .getBytes(java.nio.charset.StandardCharsets.US_ASCII));
                    }
                }
            } catch (IOException _) {
                // the generator has gone
            }
        }
    }

    private Process on(int processor, String... command) throws IOException {
        var all = new ArrayList<>(List.of("taskset", "-c", Integer.toString(processor)));
        all.addAll(List.of(command));
        Process process = new ProcessBuilder(all).redirectError(ProcessBuilder.Redirect.DISCARD).start();
        processes.add(process);
        return process;
    }

    private Process java(int processor, Class<?> main, int port, int seconds) throws IOException {
        return on(processor, JAVA, "-Xmx128m", "-XX:+UseSerialGC", "-XX:TieredStopAtLevel=1", "-cp",
                System.getProperty("java.class.path"), main.getName(), Integer.toString(port),
                Integer.toString(seconds));
    }

    /**
     * What a run tells.
     *
     * @param burners processes that share a processor with the generator (0) or the candidate (1)
     */
    private List<String> run(int burnt, int burners, int seconds) throws Exception {
        int port;
        try (var socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = socket.getLocalPort();
        }
        java(1, Working.class, port, seconds);
        for (boolean up = false; !up;) {
            try (var _ = new Socket(InetAddress.getLoopbackAddress(), port)) {
                up = true;
            } catch (IOException _) {
                Thread.onSpinWait();
            }
        }
        for (int i = 0; i < burners; i++) {
            on(burnt, "sh", "-c", "while :; do :; done");
        }
        Process generator = java(0, Generator.class, port, seconds);
        List<String> lines;
        try (Stream<String> output = generator.inputReader().lines()) {
            lines = output.toList();
        }
        stop();
        return lines;
    }

    private static void needsTwoProcessors() {
        Assumptions.assumeTrue(Files.isExecutable(Path.of("/usr/bin/taskset"))
                && Runtime.getRuntime().availableProcessors() >= 2, "needs taskset and two processors");
    }

    private static long median(List<String> told) {
        return Long.parseLong(told.getFirst().replace("median ", ""));
    }

    private static String broken(SoundnessRule rule) {
        return "broken " + rule.label();
    }

    /** A machine that is taken away as a whole may hide what the burners do; then it is set up again. */
    @Test
    void aGeneratorWithoutProcessorTimeIsCalledLate() throws Exception {
        needsTwoProcessors();
        List<String> told = List.of();
        for (int i = 0; i < TRIES && !told.contains(broken(SoundnessRule.LATE)); i++) {
            told = run(0, BURNERS, 5);
        }
        assertThat(told).contains(broken(SoundnessRule.LATE));
    }

    /**
     * Its answers are slow, and that is its own: the generator is on time. What the test sets up (a candidate that is
     * slower than by itself, a generator that is not) a machine that is taken away may spoil: then it is set up again.
     */
    @Test
    void aCandidateWithoutProcessorTimeIsNotTheGeneratorsFault() throws Exception {
        needsTwoProcessors();
        var seen = new ArrayList<List<String>>();
        for (int i = 0; i < TRIES; i++) {
            List<String> alone = run(1, 0, 2);
            List<String> starved = run(1, BURNERS, 5);
            if (median(starved) > median(alone) * 5 / 4 && !starved.contains(broken(SoundnessRule.LATE))) {
                assertThat(starved).doesNotContain(broken(SoundnessRule.GENERATOR_CPU),
                        broken(SoundnessRule.GENERATOR_GC), broken(SoundnessRule.ACHIEVED_LOAD));
                return;
            }
            seen.add(alone);
            seen.add(starved);
        }
        Assumptions.abort("this machine is too busy to starve only one of the two: " + seen);
    }
}
