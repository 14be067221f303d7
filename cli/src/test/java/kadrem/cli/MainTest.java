package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.ProxySelector;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.files.run.RunReader;
import kadrem.fixtures.Ports;
import kadrem.fixtures.Schemas;
import kadrem.standins.berths.LoopService;
import kadrem.standins.host.MadeUpHost;
import kadrem.standins.host.MetricsStandIn;
import kadrem.standins.host.SshStandIn;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;

/** The commands as a user types them, against real stand-ins. */
@Execution(ExecutionMode.CONCURRENT)
class MainTest extends CommandLineTest {
    private static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();
    private static final ObjectMapper JSON = new ObjectMapper();
    @TempDir
    private Path folder;

    private Path study(int measured) throws IOException {
        String launch = """
                launch:
                      command: ["%s", -XX:TieredStopAtLevel=1, -cp, "%s", kadrem.standins.Main, %s, --port, "{{port}}"]
                      readyWithin: 60s
                    ready: /health
                    reset:
                      path: /admin/reset""";
        String classPath = System.getProperty("java.class.path");
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: Small
                question:
                  text: Which one?
                  decide:
                    - metric: p99
                      margin: 10%%
                candidates:
                  - id: virtual
                    address: http://127.0.0.1:%d
                    %s
                  - id: loop
                    address: http://127.0.0.1:%d
                    %s
                workload:
                  values:
                    - {name: berth, from: 1, to: 2400}
                  visits:
                    - name: look
                      calls:
                        - {name: one-berth, path: "/berths/{{berth}}"}
                load:
                  model: closed
                  users: 2
                  thinkTime: 10ms
                  warmUp: 1s
                  measured: %ds
                plan:
                  rounds: 7
                  pause: 0s
                  idle: 0s
                soundness:
                  limits: {late: 10000%%, clock-steps: 5s}
                """.formatted(Ports.free(), launch.formatted(JAVA, classPath, "virtual"), Ports.free(),
                launch.formatted(JAVA, classPath, "loop"), measured));
        assertThat(kadrem("measure", folder.toString())).as("not before the user has agreed to its commands")
                .isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("you have not said yet").contains("kadrem.standins.Main");
        allow(folder.toString());
        assertThat(out.toString()).contains("The study may do this now");
        return folder;
    }

    @Test
    void whatIsWatchedIsTriedAndAnUnknownHostKeyIsTakenOnTheUsersWord() throws Exception {
        var host = new MadeUpHost(System::nanoTime, System::currentTimeMillis);
        var keys = new SimpleGeneratorHostKeyProvider();
        keys.setAlgorithm("EC");
        try (SshStandIn ssh = SshStandIn.start(0, host, keys, List.of());
                MetricsStandIn metrics = MetricsStandIn.start(0, host)) {
            Path study = study(1);
            Files.writeString(folder.resolve("password"), SshStandIn.PASSWORD + "\n");
            Path file = study.resolve("study.yaml");
            Files.writeString(file, Files.readString(file).replace("  - id: loop", """
                      watch:
                        - {name: far, ssh: "watcher@127.0.0.1:%d", password: "{{file:password}}"}
                        - {name: board, metrics: "http://127.0.0.1:%d/metrics", series: [{select: board_connections}]}
                    - id: loop""".formatted(ssh.port(), metrics.port()).indent(2).stripTrailing()));
            assertThat(kadrem("watch", study.toString(), "--candidate", "virtual")).as("two sources were added")
                    .isEqualTo(Main.BAD_INPUT);
            assertThat(err.toString()).contains("watch far: watcher@127.0.0.1").contains("the file password");
            allow(study.toString());
            assertThat(kadrem("watch", study.toString(), "--candidate", "virtual")).isEqualTo(Main.RUN_FAILED);
            assertThat(out.toString()).contains("this host (host, this host)")
                    .contains("is told of while a run goes on")
                    .contains("tells nothing: the key of 127.0.0.1:" + ssh.port() + " is not known yet")
                    .contains("board_connections  12");
            assertThat(kadrem("allow", "--host-key", "127.0.0.1:" + ssh.port())).isZero();
            assertThat(out.toString()).contains("is known by the key SHA256:");
            assertThat(kadrem("watch", study.toString(), "--candidate", "virtual")).as(out.toString() + err).isZero();
            assertThat(out.toString()).contains("memory in use").contains("3 GiB").contains("its clock is")
                    .doesNotContain(SshStandIn.PASSWORD);
        }
        assertThat(kadrem("watch", folder.toString(), "--candidate", "nobody")).isEqualTo(Main.BAD_INPUT);
        assertThat(kadrem("allow", "--host-key", "127.0.0.1:" + Ports.free())).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("no SSH connection");
    }

    @Test
    void aTrialPrintsWhatItSaw() throws Exception {
        try (LoopService service = LoopService.on(0)) {
            String url = "http://127.0.0.1:" + service.port() + "/berths/7";
            assertThat(kadrem("try", url, "--arrivals", "50", "--for", "2s", "--warm-up", "1s", "--timeout", "25s",
                    "--format", "json")).isZero();
            JsonNode json = Schemas.strictly("trial", JSON.readTree(out.toString()));
            assertThat(json.path("sent").asLong()).isEqualTo(100);
            assertThat(json.path("good").asLong()).isEqualTo(100);
            assertThat(json.path("failed").path("timeout").asLong()).isZero();
            assertThat(json.path("seconds").asDouble()).isEqualTo(2);
            assertThat(json.path("throughput").asDouble()).isPositive();
            for (String name : List.of("responseTimeNanos", "serviceTimeNanos", "lateNanos")) {
                for (String part : List.of("mean", "p50", "p90", "p95", "p99", "p999", "max")) {
                    assertThat(json.path(name).path(part).isNumber()).as("%s.%s", name, part).isTrue();
                }
            }
            assertThat(json.path("responseTimeNanos").path("p50").asLong()).isGreaterThan(10_000);
            assertThat(json.path("sound").isBoolean()).isTrue();
            assertThat(json.path("sound").asBoolean()).isEqualTo(json.path("reasons").isEmpty());
        }
    }

    @Test
    void aTrialOfNothingCountsRefusals() throws Exception {
        assertThat(kadrem("try", "http://127.0.0.1:" + Ports.free(), "--users", "2", "--for", "1s", "--warm-up", "0s"))
                .isZero();
        assertThat(out.toString()).contains("0 good").contains("failed, refused:").contains("not sound");
    }

    @Test
    void badWordsAreExplained() {
        refused("is not an address that can be tried", "try", "ftp://x");
        refused("is not on this machine", "try", "http://192.0.2.1/");
        refused("Use whole seconds, such as 5s.", "try", "http://127.0.0.1:1/", "--for", "1500ms");
        refused("it is \"soon\". Write something like 20s.", "try", "http://127.0.0.1:1/", "--for", "soon");
        refused("--users", "try", "http://127.0.0.1:1/", "--users", "3", "--arrivals", "4");
        refused("There is no study", "measure", folder.resolve("nowhere").toString());
    }

    @Test
    void measuresARoundGoesOnAndCompares() throws Exception {
        String study = study(2).toString();
        assertThat(kadrem("compare", study)).isZero();
        assertThat(out.toString()).contains("Measure first");
        assertThat(kadrem("measure", study, "--rounds", "1")).as(err.toString()).isZero();
        assertThat(out.toString()).contains("2 runs to make").contains("1/2  round 1").contains("2/2  round 1")
                .contains("left").contains("This machine makes ").contains("with empty answers");
        assertThat(kadrem("measure", study, "--no-self-check", "--rounds", "1")).isZero();
        assertThat(out.toString()).as("not checked, and warmed up all the same").doesNotContain("This machine makes ")
                .contains("Making the generator's own code quick").contains("1/2  round 2");
        assertThat(kadrem("compare", study, "--format", "json")).isZero();
        JsonNode json = JSON.readTree(out.toString());
        assertThat(json.path("comparisons").size() + json.path("leftOut").size()).isPositive();
        for (JsonNode pair : json.path("comparisons")) {
            assertThat(pair.path("baseline").asText()).isEqualTo("virtual");
            assertThat(pair.path("candidate").asText()).isEqualTo("loop");
            assertThat(pair.path("estimate").isNumber()).isTrue();
            assertThat(pair.has("low") && pair.has("high") && pair.has("achievedConfidence")).isTrue();
            assertThat(pair.path("outcome").asText()).isEqualTo("not-settled");
        }
        assertThat(kadrem("compare", study)).isZero();
    }

    @Test
    void aStudyIsMadeFilledByImportAndRehearsed() throws Exception {
        String made = folder.resolve("made").toString();
        assertThat(kadrem("new", made, "--name", "Two boards")).isZero();
        refused("There is a study in", "new", made);
        Path command = folder.resolve("command.txt");
        Files.writeString(command, "curl 'http://127.0.0.1:8080/berths/7' -H 'Accept: application/json'");
        assertThat(kadrem("import", command.toString(), "--into", made, "--preview")).isZero();
        assertThat(out.toString()).contains("1 call kept").contains("GET /berths/7").contains("Nothing was changed.");
        assertThat(kadrem("import", command.toString(), "--into", made)).isZero();
        assertThat(Files.readString(folder.resolve("made/study.yaml"))).contains("/berths/7");
        refused("no kind of import", "import", command.toString(), "--into", made, "--as", "letter");
        refused("There is no file", "import", folder.resolve("none.har").toString(), "--into", made);
        assertThat(kadrem("rehearse", made)).as("nobody answers there").isEqualTo(Main.RUN_FAILED);
        assertThat(out.toString()).contains("does not answer with success");
    }

    @Test
    void rehearsesAndStopsAMeasurementWhereAnswersDiffer() throws Exception {
        Path study = study(1);
        assertThat(kadrem("rehearse", study.toString(), "--format", "json")).as(out.toString()).isZero();
        JsonNode json = JSON.readTree(out.toString());
        assertThat(json.path("agrees").asBoolean()).isTrue();
        assertThat(json.path("candidates").size()).isEqualTo(2);
        assertThat(study.resolve("rehearsal.json")).exists();
        String text = Files.readString(study.resolve("study.yaml"));
        Files.writeString(study.resolve("study.yaml"),
                text + "rehearsal: {ignoreHeaders: [content-type]}\nintendedDifferences: [server]\n");
        assertThat(kadrem("rehearse", study.toString())).isZero();
        assertThat(out.toString()).contains("All candidates answer alike.").contains("200");
        // as if the candidates had answered otherwise
        Path kept = study.resolve("rehearsal.json");
        Files.writeString(kept, Files.readString(kept).replaceFirst("\"differences\" : \\[ ?]",
                "\"differences\" : [ {\"call\": \"one-berth\", \"candidate\": \"loop\", \"where\": \"\\$.id\","
                        + " \"baseline\": \"1\", \"value\": \"2\"} ]"));
        assertThat(kadrem("measure", study.toString())).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("Nothing was measured: the rehearsal found 1 difference").contains("$.id");
        assertThat(study.resolve("runs")).doesNotExist();
    }

    @Test
    void recordsWhatAClientSends() throws Exception {
        String made = folder.resolve("made").toString();
        kadrem("new", made);
        int port = Ports.free();
        Thread recording = Thread.ofPlatform().start(
                () -> kadrem("record", "--into", made, "--port", Integer.toString(port), "--calls", "1"));
        try (LoopService board = LoopService.on(0);
                HttpClient client = HttpClient.newBuilder()
                        .proxy(ProxySelector.of(new InetSocketAddress("127.0.0.1", port))).build()) {
            for (int i = 0; i < 600 && !out.toString().contains("Recording."); i++) {
                TimeUnit.MILLISECONDS.sleep(50);
            }
            assertThat(client.send(HttpRequest.newBuilder(
                    URI.create("http://127.0.0.1:" + board.port() + "/berths/31")).build(),
                    HttpResponse.BodyHandlers.ofString()).statusCode()).isEqualTo(200);
        }
        recording.join(30_000);
        assertThat(out.toString()).contains("1 call kept").contains("visit \"recorded\"");
        assertThat(Files.readString(folder.resolve("made/study.yaml"))).contains("path: /berths/31");
    }

    @Test
    void aFolderThatCannotBeWrittenStopsBeforeTheFirstLaunch() throws Exception {
        Path study = study(2);
        Files.writeString(study.resolve("runs"), "in the way");
        assertThat(kadrem("measure", study.toString(), "--no-self-check")).isEqualTo(Main.RUN_FAILED);
        assertThat(err.toString()).contains("cannot be written; nothing was measured and nothing is lost");
    }

    /** kill -9 in the middle of a run: the seconds until then stay, nothing runs on, the run is marked. */
    @Test
    void aKilledKadremLosesAtMostASecondAndLeavesNothingBehind() throws Exception {
        Path study = study(60);
        Process kadrem = new ProcessBuilder(JAVA, "-cp", System.getProperty("java.class.path"), "kadrem.cli.Main",
                "measure", study.toString(), "--no-self-check").redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD).start();
        Path run = awaitLines(study, 4);
        JsonNode record = JSON.readTree(run.resolve("run.json").toFile());
        long candidate = record.path("processes").path("candidatePid").asLong();
        kadrem.destroyForcibly().waitFor();
        assertThat(ProcessHandle.of(candidate)).as("it outlives Kadrem").isPresent();
        assertThat(kadrem("again", study.toString())).as("the plan is not through").isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("Kadrem ended in the middle of this run");
        assertThat(ProcessHandle.of(candidate).filter(ProcessHandle::isAlive)).isEmpty();
        JsonNode marked = JSON.readTree(run.resolve("run.json").toFile());
        assertThat(marked.path("outcome").asText()).isEqualTo("cut-off");
        assertThat(RunReader.seconds(run)).hasSizeGreaterThanOrEqualTo(4);
    }

    /** The run folder once its seconds.csv tells of {@code seconds} seconds. */
    private static Path awaitLines(Path study, int seconds) throws Exception {
        for (int i = 0; i < 1200; i++) {
            if (Files.isDirectory(study.resolve("runs"))) {
                try (Stream<Path> runs = Files.list(study.resolve("runs"))) {
                    Path run = runs.findFirst().orElse(null);
                    if (run != null && Files.exists(run.resolve("seconds.csv"))
                            && RunReader.seconds(run).size() >= seconds) {
                        return run;
                    }
                }
            }
            TimeUnit.MILLISECONDS.sleep(100);
        }
        throw new AssertionError("no run got under way");
    }
}
