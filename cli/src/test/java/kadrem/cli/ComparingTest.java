package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.StreamSupport;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.fixtures.Schemas;
import org.HdrHistogram.Histogram;
import org.HdrHistogram.HistogramLogWriter;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Comparisons typed at the command line: of figures measured elsewhere, and of the demo study with its verdict. */
class ComparingTest extends CommandLineTest {
    private static final Path HOME = Path.of("..");

    @TempDir
    private Path folder;

    private JsonNode json(String schema) throws IOException {
        return Schemas.strictly(schema, new ObjectMapper().readTree(out.toString()));
    }

    private String file(String name, String text) throws IOException {
        return Files.writeString(folder.resolve(name), text).toString();
    }

    /**
     * Hollander and Wolfe 1973, page 29, the depression scores as plain differences: y is negative nowhere, so that ratios are
     * taken; V, p and the achieved confidence are those of the differences of logarithms, by R 4.2.2:
     * wilcox.test(log(y), log(x), paired = TRUE, conf.int = TRUE).
     */
    @Test
    void pairedFiguresFromAFile() throws Exception {
        String csv = file("scores.csv", """
                candidate,round,value
                before,1,1.83
                after,1,0.878
                before,2,0.50
                after,2,0.647
                before,3,1.62
                after,3,0.598
                before,4,2.48
                after,4,2.05
                before,5,1.68
                after,5,1.06
                before,6,1.88
                after,6,1.29
                before,7,1.55
                after,7,1.06
                before,8,3.06
                after,8,3.14
                before,9,1.30
                after,9,1.29
                """);
        assertThat(kadrem("compare", csv, "--baseline", "before", "--format", "json")).isZero();
        JsonNode pair = json("values").path("comparisons").path(0);
        assertThat(pair.path("paired").asBoolean()).isTrue();
        assertThat(pair.path("baselineRuns").asInt()).isEqualTo(9);
        assertThat(pair.path("p").asDouble()).isCloseTo(0.0546875, within(1e-12));
        assertThat(pair.path("estimate").asDouble()).isCloseTo(0.7221865267, within(1e-9));
        assertThat(pair.path("low").asDouble()).isCloseTo(0.5032792387, within(1e-9));
        assertThat(pair.path("high").asDouble()).isCloseTo(1.0090839296, within(1e-9));
        assertThat(pair.path("achievedConfidence").asDouble()).isCloseTo(0.9609375, within(1e-9));
        assertThat(pair.path("outcome").asText()).isEqualTo("not-settled");
        assertThat(kadrem("compare", csv)).isZero();
        assertThat(out.toString()).contains("9 paired").contains("28 % lower").contains("not settled")
                .contains("signed-rank");
    }

    /** Hollander and Wolfe 1973, page 69: p by R 4.2.2, wilcox.test(x, y); ranks are the same for logarithms. */
    @Test
    void figuresWithoutRoundsAreComparedUnpaired() throws Exception {
        var rows = new StringBuilder("candidate,round,value\r\n");
        for (String value : "1.15 0.88 0.90 0.74 1.21".split(" ")) {
            rows.append("early,,").append(value).append("\r\n");
        }
        for (String value : "0.80 0.83 1.89 1.04 1.45 1.38 1.91 1.64 0.73 1.46".split(" ")) {
            rows.append("term,,").append(value).append("\r\n");
        }
        assertThat(kadrem("compare", file("permeability.csv", rows.toString()), "--format", "json")).isZero();
        JsonNode pair = json("values").path("comparisons").path(0);
        assertThat(pair.path("paired").asBoolean()).isFalse();
        assertThat(pair.path("p").asDouble()).isCloseTo(0.2544122544, within(1e-9));
        assertThat(pair.path("cliffsDelta").asDouble()).isCloseTo(0.4, within(1e-9));
    }

    @Test
    void singleLatenciesAndLatencyLogsAreRunsByOneOfTheirFigures() throws Exception {
        var rows = new StringBuilder("candidate,round,value\n");
        for (int round = 1; round <= 6; round++) {
            for (int call = 1; call <= 100; call++) {
                rows.append("a,").append(round).append(',').append(call).append('\n');
                rows.append("b,").append(round).append(',').append(call * 2).append('\n');
            }
            for (String candidate : new String[]{"x", "y"}) {
                var histogram = new Histogram(3);
                for (int call = 1; call <= 100; call++) {
                    histogram.recordValue(call * (candidate.equals("x") ? 10_000L : 5_000L));
                }
                try (var log = new PrintStream(folder.resolve(candidate + "-" + round + ".hlog").toFile())) {
                    new HistogramLogWriter(log).outputIntervalHistogram(histogram);
                }
            }
        }
        String raw = file("raw.csv", rows.toString());
        assertThat(kadrem("compare", raw)).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("--figure p99");
        assertThat(kadrem("compare", raw, "--figure", "p99", "--format", "json")).isZero();
        assertThat(json("values").path("comparisons").path(0).path("estimate").asDouble()).isCloseTo(2, within(1e-9));
        String[] logs = new String[16];
        logs[0] = "compare";
        for (int i = 0; i < 12; i++) {
            logs[i + 1] = folder.resolve((i < 6 ? "x-" : "y-") + (i % 6 + 1) + ".hlog").toString();
        }
        logs[13] = "--figure=p50";
        logs[14] = "--baseline=x";
        logs[15] = "--format=json";
        assertThat(kadrem(logs)).isZero();
        JsonNode pair = json("values").path("comparisons").path(0);
        assertThat(pair.path("estimate").asDouble()).isCloseTo(0.5, within(0.002));
        assertThat(pair.path("p").asDouble()).isCloseTo(0.03125, within(1e-9));
    }

    @Test
    void figuresThatCannotBeComparedAreToldWithThePlaceAndTheMend() throws Exception {
        refused("there is no file", "compare", folder.resolve("none.csv").toString());
        refused("candidate,round,value in its first line", "compare", file("head.csv", "name,value\na,1\n"));
        refused("record 1: the value is \"ten\"", "compare", file("text.csv", "candidate,round,value\na,1,ten\n"));
        refused("record 1: it needs a candidate", "compare", file("short.csv", "round,value,candidate\n1\n"));
        refused("it takes two or more", "compare", file("one.csv", "candidate,round,value\na,1,10\n"));
        refused("no round in common", "compare", file("apart.csv", "candidate,round,value\na,1,10\nb,2,10\n"));
        refused("no candidate \"c\", but a, b", "compare", file("base.csv", "candidate,round,value\na,1,10\nb,1,10\n"),
                "--baseline", "c");
        refused("Use p50, p95, p99 or mean", "compare", file("p.csv", "candidate,round,value\na,1,10\nb,1,10\n"),
                "--figure", "p98");
        refused("bad.hlog holds no latencies", "compare", file("bad.hlog", "not a log\n"), "--figure", "p50");
    }

    @Test
    void theDemoStudyAsJsonCarriesEverythingThatIsSeen() throws Exception {
        Path demo = HOME.resolve("demo/harbour-berths");
        assertThat(kadrem("compare", demo.toString(), "--format", "json")).isZero();
        JsonNode root = json("comparison");
        assertThat(root.path("verdict").path("kind").asText()).isEqualTo("recommended");
        assertThat(root.path("together")).hasSize(8);
        assertThat(root.path("byCall")).hasSize(4 * 4 * 3);
        assertThat(root.path("quantileDifferences")).hasSize(3);
        assertThat(StreamSupport.stream(root.path("comparisons").spliterator(), false)
                .map(pair -> pair.path("secondOpinions").path("bootstrap").path("low").asDouble()))
                .hasSize(24).allMatch(Double::isFinite);
        assertThat(kadrem("verdict", demo.toString())).isZero();
        assertThat(out.toString()).contains("is recommended.").contains("Not shown:")
                .contains("would settle it four times in five");
    }

    @Test
    void figuresBecomeAStudyWithoutLoadThatIsComparedAndDecided() throws Exception {
        var rows = new StringBuilder("candidate,round,value\n");
        for (int round = 1; round <= 7; round++) {
            rows.append("Pool v2,").append(round).append(',').append(20 + round % 3).append('\n');
            rows.append("Loop,").append(round).append(',').append(10 + round % 2 * 0.5).append('\n');
        }
        String csv = file("p99.csv", rows.toString());
        String study = folder.resolve("elsewhere").toString();
        assertThat(kadrem("new", study, "--figures", csv, "--metric", "p99", "--unit", "ms")).isZero();
        assertThat(kadrem("compare", study, "--format", "json")).isZero();
        JsonNode root = json("comparison");
        assertThat(root.path("comparisons")).hasSize(1);
        assertThat(root.path("comparisons").path(0).path("outcome").asText()).isEqualTo("better-by-more-than-margin");
        assertThat(root.path("comparisons").path(0).path("values").path(0).path("baseline").asDouble())
                .as("21 ms in nanoseconds").isEqualTo(21e6);
        assertThat(root.path("runs")).hasSize(14);
        assertThat(kadrem("verdict", study)).isZero();
        assertThat(out.toString()).contains("Loop is recommended.");
        assertThat(kadrem("measure", study)).isEqualTo(Main.BAD_INPUT);
        assertThat(kadrem("rehearse", study)).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("measured elsewhere, so that there is nothing to send");

        Path figures = Path.of(study).resolve("figures/p99.csv");
        Files.writeString(figures, Files.readString(figures) + "raft,1,10\n");
        assertThat(kadrem("compare", study)).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("\"raft\", which is not a candidate of the study");
        Files.writeString(figures, "candidate,round,value\nLoop,,3\n");
        assertThat(kadrem("compare", study)).isEqualTo(Main.BAD_INPUT);
        assertThat(err.toString()).contains("figures without rounds are compared by kadrem compare FILE");
    }

    @Test
    void aStudyOfUnusableFiguresIsNotLeftBehind() throws Exception {
        String csv = file("p99.csv", "candidate,round,value\na,1,10\nb,1,11\n");
        Path study = folder.resolve("wrong");
        refused("p50, p95, p99", "new", study.toString(), "--figures", csv, "--metric", "p98");
        refused("Use one of: ms, ns, s, us", "new", study.toString(), "--figures", csv, "--metric", "p99", "--unit",
                "min");
        assertThat(study.resolve("study.yaml")).doesNotExist();
    }
}
