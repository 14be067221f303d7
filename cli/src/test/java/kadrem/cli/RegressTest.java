package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.fixtures.Ports;
import kadrem.fixtures.Programs;
import kadrem.fixtures.Repository;
import kadrem.fixtures.Schemas;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Two commits of a real repository measured beside each other, and the history that comes of it. */
class RegressTest extends CommandLineTest {
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();
    /** A service whose work for a call stands in a file of its repository: rounds of SHA-256. */
    private static final String SERVICE = """
            import com.sun.net.httpserver.HttpServer;
            import java.net.InetSocketAddress;
            import java.nio.file.*;
            import java.security.MessageDigest;
            public class Service {
              public static void main(String[] a) throws Exception {
                int work = Integer.parseInt(Files.readString(Path.of("work.txt")).strip());
                var s = HttpServer.create(new InetSocketAddress("127.0.0.1", Integer.parseInt(a[0])), 50);
                s.createContext("/", x -> { try {
                  byte[] d = new byte[32];
                  var m = MessageDigest.getInstance("SHA-256");
                  for (int i = 0; i < work; i++) d = m.digest(d);
                  x.sendResponseHeaders(200, d.length); x.getResponseBody().write(d); x.close();
                } catch (Exception e) { throw new RuntimeException(e); } });
                s.start();
              }
            }
            """;

    @TempDir
    private Path folder;
    private Repository repository;
    private Path study;

    private void commit(int work) throws Exception {
        repository.commit("service/work.txt", work + "\n");
    }

    @BeforeEach
    void makeStudy() throws IOException {
        int port = Ports.free();
        study = Files.createDirectories(folder.resolve("study"));
        Files.createDirectories(folder.resolve("service"));
        Files.writeString(folder.resolve("service/Service.java"), SERVICE);
        Files.writeString(study.resolve("study.yaml"),
                """
                        kadrem: 1
                        name: berth service
                        question:
                          text: Is it as fast as it was?
                          significance: 0.2
                          decide: [{metric: p50, margin: 10%%}]
                        candidates:
                          - id: service
                            address: "http://127.0.0.1:%d"
                            launch:
                              command: ["%s", -Dsun.net.httpserver.nodelay=true, -cp, out, Service, "{{port}}"]
                              folder: ../service
                            ready: /
                        workload:
                          visits: [{name: look, calls: [{name: berths, path: /berths}]}]
                        load: {model: closed, users: 1, thinkTime: 10ms, warmUp: 0s, measured: 1s, timeout: 5s}
                        plan: {rounds: 4, seed: 3, pause: 0s, idle: 0s}
                        soundness:
                          limits: {other-work-on-the-host: 95%%, tail-support: 0, drift: 1000%%, late: 10000%%, generator-cpu: 100%%, other-processes: 100%%, generator-gc: 100%%, littles-law: 90%%, clock-steps: 500ms}
                        """
                        .formatted(port, JAVA));
    }

    @Test
    void aSlowerCommitEndsABuildAndTheHistoryKeepsBoth() throws Exception {
        assumeTrue(Programs.isThere("git"), "there is no git on this machine");
        repository = Repository.in(folder);
        Files.writeString(folder.resolve(".gitignore"), "out\nregressions\n");
        commit(2_000);
        // twenty times the work: a host whose speed changes by the half from run to run must not hide it
        commit(40_000);
        assertThat(kadrem("allow", "--own", study.toString())).isZero();
        String build = "mkdir -p service/out && " + JAVA.replaceAll("java$", "javac")
                + " -d service/out service/Service.java";
        Path junit = folder.resolve("TEST-regress.xml");
        int code = kadrem("regress", study.toString(), "--before", "HEAD~1", "--after", "HEAD", "--build", build,
                "--junit",
                junit.toString());
        assertThat(code).as(out + "\n" + err).isEqualTo(Main.WORSE);
        assertThat(out.toString()).contains("settled: worse by more than the margin of 10 %").contains("in 4 rounds");
        assertThat(Files.readString(junit)).contains("failures=\"1\"").contains("type=\"worse\"");
        assertThat(repository.git("worktree", "list").lines()).as("worktrees are taken away").hasSize(1);
        assertThat(repository.git("status", "--porcelain")).as("the repository's own files are not touched")
                .doesNotContain("service/");

        JsonNode entries = Schemas.strictly("history",
                new ObjectMapper().readTree(Files.readAllLines(study.resolve("history.jsonl")).getFirst()));
        assertThat(entries.path("version").asText()).isEqualTo(repository.git("rev-parse", "--short=10", "HEAD~1"));
        assertThat(kadrem("history", study.toString(), "--format", "json")).isZero();
        assertThat(new ObjectMapper().readTree(out.toString()).path("entries")).hasSize(2);

        // the same two again: measured already, answered at once
        assertThat(kadrem("regress", study.toString(), "--before", "HEAD~1", "--after", "HEAD", "--no-history"))
                .isEqualTo(Main.WORSE);
        // the runs of the study itself against the earlier version: unpaired, which settles nothing, and decided by the pair
        Process built = new ProcessBuilder("sh", "-c", build).directory(folder.toFile()).start();
        assertThat(built.waitFor(60, TimeUnit.SECONDS) && built.exitValue() == 0).isTrue();
        assertThat(kadrem("measure", study.toString(), "--no-self-check", "--quiet")).as(err.toString()).isZero();
        String earlier = repository.git("rev-parse", "--short=10", "HEAD~1");
        assertThat(kadrem("regress", study.toString(), "--against", earlier))
                .as("each in a sitting of its own").isEqualTo(Main.NOT_SETTLED);
        assertThat(out.toString()).contains("unpaired").contains("--before " + earlier + " --after HEAD")
                .doesNotContain("in 4 rounds");
        assertThat(kadrem("regress", study.toString(), "--against", earlier, "--again", "--no-history"))
                .isEqualTo(Main.WORSE);
        assertThat(out.toString()).contains("Both are measured again").contains("in 4 rounds");
        assertThat(kadrem("regress", study.toString(), "--before", "HEAD", "--after", "HEAD"))
                .isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("are the same commit");
        assertThat(kadrem("regress", study.toString(), "--before", "nowhere", "--after", "HEAD"))
                .isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("Nothing was measured: the versions cannot be made ready: git rev-parse");
        assertThat(kadrem("regress", study.toString(), "--before", "HEAD~1", "--after", "HEAD", "--build",
                "echo no; exit 3"))
                .isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("ended with code 3").contains("no");
    }

    @Test
    void whatIsAskedOfItMustMakeSense() {
        assertThat(kadrem("regress", study.toString())).isEqualTo(Main.BAD_INPUT);
        assertThat(kadrem("regress", study.toString(), "--candidate", "pond", "--against", "last"))
                .isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("is not a candidate");
        assertThat(kadrem("regress", study.toString(), "--against", "last")).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("The history has no version");
        assertThat(kadrem("history", study.toString(), "--metric", "p42")).isEqualTo(Main.BAD_INPUT);
        assertThat(kadrem("history", study.toString(), "--add", "v1")).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("no sound runs");
        assertThat(kadrem("history", study.toString())).isZero();
        assertThat(out.toString()).contains("No version has been measured yet");
    }

    /** The demo study's runs against themselves as an earlier version: unpaired, and said so. */
    @Test
    void runsAreComparedWithAnEarlierVersionUnpaired() throws Exception {
        Path demo = Demo.copy(folder.resolve("demo"));
        int known = Files.readAllLines(demo.resolve("history.jsonl")).size();
        assertThat(kadrem("history", demo.toString(), "--candidate", "pool", "--add", "season-1")).isZero();
        assertThat(kadrem("history", demo.toString(), "--candidate", "pool", "--add", "season-1")).isZero();
        assertThat(Files.readAllLines(demo.resolve("history.jsonl"))).as("the same figures are kept once")
                .hasSize(known + 1);
        assertThat(kadrem("regress", demo.toString(), "--candidate", "pool", "--against", "last")).isZero();
        assertThat(out.toString()).contains("unpaired").contains("Measured beside each other")
                .contains("the same");
        assertThat(kadrem("regress", demo.toString(), "--candidate", "pool", "--against", "v1.11")).isZero();
        assertThat(out.toString()).contains("peak memory: not compared, as it is not known of both");
        Path history = demo.resolve("history.jsonl");
        String line = Files.readAllLines(history).getLast() + "\n";
        // an earlier version that was three times as fast, and a line that cannot be read
        ObjectNode fast = (ObjectNode) new ObjectMapper().readTree(line);
        fast.put("version", "season-0");
        for (String metric : List.of("p95", "peak-memory")) {
            var values = new ObjectMapper().createArrayNode();
            fast.path("values").path(metric).forEach(value -> values.add(value.asDouble() / 3));
            ((ObjectNode) fast.path("values")).set(metric, values);
        }
        Files.writeString(history,
                fast + "\nnot json\n" + line.replace("season-1", "broken").replaceFirst("\\[", "[1E999,"));
        assertThat(kadrem("regress", demo.toString(), "--candidate", "pool", "--against", "season-0"))
                .as(out + "\n" + err).isEqualTo(Main.NOT_SETTLED);
        assertThat(err.toString()).contains("line 2 cannot be read").contains("line 3 cannot be read");
    }
}
