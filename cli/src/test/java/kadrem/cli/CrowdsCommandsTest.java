package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.measure.PartFigures;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunRecord;
import kadrem.files.run.RunFolders;
import kadrem.fixtures.Answering;
import kadrem.fixtures.Schemas;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A study with two crowds from the rehearsal to its exports, at the command line. */
class CrowdsCommandsTest extends CommandLineTest {
    private static final int READS = 40;
    private static final int BROUGHT = 30;

    @TempDir
    private Path folder;

    private static Answering service() throws Exception {
        return Answering.busy(Duration.ofMillis(1), Map.of("Content-Type", "application/json"), "{}");
    }

    private void study(Answering one, Answering other) throws Exception {
        Files.writeString(folder.resolve("study.yaml"),
                """
                        kadrem: 1
                        name: Crowds
                        question:
                          text: Which one?
                          decide: [{metric: p95, of: readers}]
                          require: [{metric: error-share, of: import, limit: 1%%}]
                        candidates: [{id: a, address: "%s"}, {id: b, address: "%s"}]
                        workload:
                          visits:
                            - {name: browse, calls: [{name: list, path: /berths}]}
                            - {name: look, calls: [{name: tide, path: /tides}]}
                            - {name: bring, calls: [{name: arrival, method: POST, path: /ships, body: "{}"}]}
                        load:
                          warmUp: 0s
                          crowds:
                            - {name: readers, makes: [browse, look], model: open, arrivalsPerSecond: 20, measured: 2s, connections: 4}
                            - {name: import, makes: bring, model: open, arrivalsPerSecond: 30, start: 1s, measured: 1s, connections: 4}
                        plan: {rounds: 1, pause: 0s, idle: 0s}
                        soundness:
                          limits: {late: 10000%%, clock-steps: 5s}
                        """
                        .formatted(one.address(), other.address()));
        allow(folder.toString());
    }

    @Test
    void twoCrowdsAreRehearsedMeasuredComparedAndExported() throws Exception {
        try (Answering one = service(); Answering other = service()) {
            study(one, other);
            assertThat(kadrem("rehearse", folder.toString())).as(err.toString()).isZero();
            assertThat(out.toString()).contains("list").contains("arrival").contains("All candidates answer alike");
            assertThat(kadrem("measure", folder.toString(), "--no-self-check")).as(err.toString()).isZero();
            assertThat(out.toString()).contains("(readers p50 ").contains("; import p50 ");

            List<RunRecord> runs = new RunFolders(folder).runs();
            assertThat(runs).hasSize(2);
            assertThat(runs).allSatisfy(run -> {
                RunFigures figures = run.figures().orElseThrow();
                assertThat(figures.crowds()).extracting(PartFigures::name).containsExactly("readers", "import");
                assertThat(figures.crowds()).extracting(PartFigures::good).containsExactly((long) READS,
                        (long) BROUGHT);
                assertThat(run.stream().orElseThrow().crowds()).hasSize(2);
                assertThat(run.stream()).isEqualTo(runs.getFirst().stream());
            });
            assertThat(kadrem("compare", folder.toString(), "--format", "json")).isIn(0, Main.NOT_SETTLED);
            JsonNode json = Schemas.strictly("comparison", new ObjectMapper().readTree(out.toString()));
            assertThat(json.path("comparisons").findValuesAsText("metric")).contains("p95 of readers", "p99 of import");
            assertThat(json.path("runs").path(0).path("values").has("throughput of import")).isTrue();

            Path data = folder.resolve("data");
            assertThat(kadrem("export", folder.toString(), "--data", data.toString())).as(err.toString()).isZero();
            assertThat(Files.readString(data.resolve("runs.csv")).lines().findFirst().orElseThrow())
                    .contains("p95_of_readers_ns").contains("error_share_of_import");
            assertThat(kadrem("report", folder.toString())).as(err.toString()).isZero();
            assertThat(Files.readString(folder.resolve("report").resolve("report.html")))
                    .contains("p95 response time (readers)").contains("Crowd import (makes bring)");
        }
    }
}
