package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
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
import kadrem.fixtures.Ports;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.LoadOrder;
import kadrem.load.generator.LocalLoad;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledOnOs;
import org.junit.jupiter.api.condition.OS;
import org.junit.jupiter.api.parallel.Isolated;

/**
 * Generator and candidate as processes of their own, each pinned to one processor; then the generator has to share its processor with
 * others that burn it, or the candidate is stopped again and again. The run tells whose fault it is.
 */
@Isolated
@EnabledOnOs(OS.LINUX)
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

    /** Lets the candidate run half of the time only. */
    private static void stopAgainAndAgain(Process candidate, StarvationTest test) throws IOException {
        test.on(1, "sh", "-c", "while kill -STOP " + candidate.pid() + "; do sleep 0.1; kill -CONT " + candidate.pid()
                + "; sleep 0.1; done");
    }

    /** What is done to the two before the load begins. */
    private interface Trouble {
        void begin(Process candidate, StarvationTest test) throws IOException;
    }

    /** What a run tells. */
    private List<String> run(int seconds, Trouble trouble) throws Exception {
        int port = Ports.free();
        Process candidate = java(1, Working.class, port, seconds);
        for (boolean up = false; !up;) {
            try (var _ = new Socket(InetAddress.getLoopbackAddress(), port)) {
                up = true;
            } catch (IOException _) {
                Thread.onSpinWait();
            }
        }
        trouble.begin(candidate, this);
        Process generator = java(0, Generator.class, port, seconds);
        List<String> lines;
        try (Stream<String> output = generator.inputReader().lines()) {
            lines = output.toList();
        }
        stop();
        return lines;
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
        List<String> told = List.of();
        for (int i = 0; i < TRIES && !told.contains(broken(SoundnessRule.LATE)); i++) {
            told = run(5, (_, test) -> {
                for (int burner = 0; burner < BURNERS; burner++) {
                    test.on(0, "sh", "-c", "while :; do :; done");
                }
            });
        }
        assertThat(told).contains(broken(SoundnessRule.LATE));
    }

    /** Its answers are slow, and that is its own: the generator is on time. A machine that is taken away is given further tries. */
    @Test
    void aCandidateWithoutProcessorTimeIsNotTheGeneratorsFault() throws Exception {
        List<String> starved = run(5, StarvationTest::stopAgainAndAgain);
        for (int i = 1; i < TRIES && starved.contains(broken(SoundnessRule.LATE)); i++) {
            starved = run(5, StarvationTest::stopAgainAndAgain);
        }
        assertThat(median(starved)).as("stopped for half of the time, 100 ms at a time: half of the calls wait")
                .isGreaterThan(median(run(2, (_, _) -> {
                })));
        assertThat(starved).doesNotContain(broken(SoundnessRule.LATE), broken(SoundnessRule.GENERATOR_CPU),
                broken(SoundnessRule.GENERATOR_GC), broken(SoundnessRule.ACHIEVED_LOAD));
    }
}
