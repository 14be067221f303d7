package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.mockito.Mockito;

/** What a dashboard reads while a study is measured. */
class LiveMetricsTest {
    private final CampaignListener next = Mockito.mock(CampaignListener.class);

    private static RunRecord run(String candidate, int round) {
        return RunRecord.begun(new RunIdentity("a1b2c3d4", round, candidate, 1, 1, "digest", Instant.EPOCH,
                Map.of(), Optional.empty()), RunRecord.Processes.NONE);
    }

    private static SecondSummary second(long good, long failed) {
        var kinds = new EnumMap<FailureKind, Long>(FailureKind.class);
        kinds.put(FailureKind.TIMEOUT, failed);
        return new SecondSummary(3, 50, 50, good, kinds, 1_500_000, 4_000_000, 9_000_000, 100_000, 7, 2);
    }

    private static String read(LiveMetrics metrics) throws Exception {
        try (HttpClient client = HttpClient.newHttpClient()) {
            HttpResponse<String> answer = client.send(HttpRequest
                    .newBuilder(metrics.serve(0)).build(),
                    HttpResponse.BodyHandlers.ofString());
            assertThat(answer.headers().firstValue("Content-Type").orElseThrow())
                    .startsWith("application/openmetrics-text; version=1.0.0");
            return answer.body();
        }
    }

    @Test
    void figuresOfAllCandidatesAreServedWhileTheyAreMeasured() throws Exception {
        try (var metrics = new LiveMetrics(next)) {
            assertThat(read(metrics)).endsWith("# EOF\n");
            metrics.runBegins(run("pool", 2), 3, 21, Duration.ofMinutes(2));
            metrics.second(run("pool", 2), second(48, 2));
            metrics.second(run("pool", 2), second(50, 0));
            metrics.second(run("lo\"op", 2), second(50, 0));
            metrics.runEnds(run("pool", 2), 3, 21, Duration.ofMinutes(2));
            String text = read(metrics);
            assertThat(text.lines()).contains("kadrem_calls_total{candidate=\"pool\",outcome=\"good\"} 98.0",
                    "kadrem_failures_total{candidate=\"pool\",kind=\"timeout\"} 2.0",
                    "kadrem_response_last_second_seconds{candidate=\"pool\",percentile=\"99\"} 0.009",
                    "kadrem_users{candidate=\"pool\"} 7.0", "kadrem_runs_ended 3.0", "kadrem_runs_planned 21.0");
            assertGrammar(text);
        }
        Mockito.verify(next, Mockito.times(3)).second(Mockito.any(), Mockito.any());
        Mockito.verify(next).runEnds(Mockito.any(), Mockito.eq(3), Mockito.eq(21), Mockito.any());
    }

    @Test
    @Timeout(30)
    void oneWhoStallsHoldsNobodyElseUp() throws Exception {
        try (var metrics = new LiveMetrics(next); var stalled = new Socket()) {
            int port = metrics.serve(0).getPort();
            stalled.connect(new InetSocketAddress(InetAddress.getLoopbackAddress(), port));
            stalled.getOutputStream().write("GET /metrics HTTP/1.1\r\nHost: ".getBytes(StandardCharsets.US_ASCII));
            assertThat(read(metrics)).endsWith("# EOF\n");
        }
    }

    /**
     * The text format's grammar: OpenMetrics 1.0, section "ABNF" (metricset, metric-descriptor, metric), and the rules beside it: a
     * family's lines stand together, its descriptors come first and once, a counter's sample ends with _total.
     */
    private static void assertGrammar(String text) {
        Pattern descriptor = Pattern.compile("# (TYPE|HELP|UNIT) ([a-zA-Z_:][a-zA-Z0-9_:]*) (.+)");
        Pattern sample = Pattern.compile("([a-zA-Z_:][a-zA-Z0-9_:]*)"
                + "(\\{([a-zA-Z_][a-zA-Z0-9_]*=\"([^\"\\\\\\n]|\\\\[\\\\\"n])*\"(,[a-zA-Z_][a-zA-Z0-9_]*=\"([^\"\\\\\\n]|\\\\[\\\\\"n])*\")*)?\\})?"
                + " ([+-]?\\d+(\\.\\d+)?([eE][+-]?\\d+)?|NaN|[+-]?Inf)( \\d+(\\.\\d+)?)?");
        assertThat(text).endsWith("\n# EOF\n");
        List<String> lines = text.substring(0, text.length() - "# EOF\n".length()).lines().toList();
        Set<String> ended = new HashSet<>();
        Set<String> seen = new HashSet<>();
        String family = "";
        String type = "";
        for (String line : lines) {
            var described = descriptor.matcher(line);
            if (described.matches()) {
                if (!described.group(2).equals(family)) {
                    ended.add(family);
                    family = described.group(2);
                    assertThat(ended).as("the lines of a family stand together").doesNotContain(family);
                }
                assertThat(seen.add(described.group(1) + family)).as(line + " once").isTrue();
                if (described.group(1).equals("TYPE")) {
                    type = described.group(3);
                    assertThat(type).isIn("counter", "gauge");
                }
                if (described.group(1).equals("UNIT")) {
                    assertThat(family).endsWith("_" + described.group(3));
                }
                continue;
            }
            var value = sample.matcher(line);
            assertThat(value.matches()).as(line).isTrue();
            assertThat(value.group(1)).isEqualTo(family + (type.equals("counter") ? "_total" : ""));
            assertThat(seen.add(line.substring(0, line.lastIndexOf(' ')))).as(line + " once").isTrue();
        }
    }

    @Test
    void aPortInUseIsToldAndServingTwiceIsTheSamePlace() throws Exception {
        boolean again = false;
        // another test may take the port that has just become free
        for (int i = 0; i < 5 && !again; i++) {
            try (var second = new LiveMetrics(next)) {
                int taken;
                try (var first = new LiveMetrics(next)) {
                    int port = first.serve(0).getPort();
                    taken = port;
                    assertThat(first.serve(0).getPort()).isEqualTo(port);
                    org.assertj.core.api.Assertions.assertThatThrownBy(() -> second.serve(port))
                            .isInstanceOf(java.net.BindException.class);
                }
                again = isServed(second, taken);
            }
        }
        assertThat(again).as("free again").isTrue();
    }

    private static boolean isServed(LiveMetrics metrics, int port) throws java.io.IOException {
        try {
            return metrics.serve(port).getPort() == port;
        } catch (java.net.BindException _) {
            return false;
        }
    }
}
