package kadrem.load.host.counters;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;

import kadrem.load.host.SourceFailure;
import org.junit.jupiter.api.Test;

/**
 * The examples of the OpenMetrics 1.0 specification (sections "Overall Structure", "Histogram", "GaugeHistogram", "StateSet",
 * "Info") and of the description of the Prometheus text format 0.0.4. Their text is written down from memory.
 */
class MetricsTextTest {
    private static MetricsText.Sample one(String text, String name) throws SourceFailure {
        return MetricsText.parse(text, true).stream().filter(sample -> sample.name().equals(name)).findFirst()
                .orElseThrow();
    }

    @Test
    void theOverallStructureIsRead() throws SourceFailure {
        String text = """
                # TYPE acme_http_router_request_seconds summary
                # UNIT acme_http_router_request_seconds seconds
                # HELP acme_http_router_request_seconds Latency though all of ACME's HTTP request router.
                acme_http_router_request_seconds_sum{path="/api/v1",method="GET"} 9036.32
                acme_http_router_request_seconds_count{path="/api/v1",method="GET"} 807283.0
                acme_http_router_request_seconds_created{path="/api/v1",method="GET"} 1605281325.0
                acme_http_router_request_seconds_sum{path="/api/v2",method="POST"} 479.3
                acme_http_router_request_seconds_count{path="/api/v2",method="POST"} 34.0
                acme_http_router_request_seconds_created{path="/api/v2",method="POST"} 1605281325.0
                # TYPE go_goroutines gauge
                # HELP go_goroutines Number of goroutines that currently exist.
                go_goroutines 69
                # TYPE process_cpu_seconds counter
                # UNIT process_cpu_seconds seconds
                # HELP process_cpu_seconds Total user and system CPU time spent in seconds.
                process_cpu_seconds_total 4.20072246e+06
                # EOF
                """;
        assertThat(MetricsText.parse(text, true)).hasSize(8);
        assertThat(one(text, "acme_http_router_request_seconds_count")).isEqualTo(new MetricsText.Sample(
                "acme_http_router_request_seconds_count", Map.of("path", "/api/v1", "method", "GET"), 807283,
                "acme_http_router_request_seconds", true, "seconds"));
        assertThat(one(text, "acme_http_router_request_seconds_created").grows()).isFalse();
        assertThat(one(text, "go_goroutines")).satisfies(sample -> {
            assertThat(sample.value()).isEqualTo(69);
            assertThat(sample.grows()).isFalse();
        });
        assertThat(one(text, "process_cpu_seconds_total")).satisfies(sample -> {
            assertThat(sample.value()).isEqualTo(4.20072246e6);
            assertThat(sample.grows()).isTrue();
            assertThat(sample.unit()).isEqualTo("seconds");
        });
    }

    @Test
    void exemplarsTimestampsAndOtherTypesAreRead() throws SourceFailure {
        String text = """
                # TYPE foo histogram
                foo_bucket{le="0.01"} 0
                foo_bucket{le="0.1"} 8 # {} 0.054
                foo_bucket{le="1"} 11 # {trace_id="KOO5S4vxi0o"} 0.67
                foo_bucket{le="10"} 17 # {trace_id="oHg5SJYRHA0"} 9.8 1520879607.789
                foo_bucket{le="+Inf"} 17
                foo_count 17
                foo_sum 324789.3
                foo_created 1520430000.123
                # TYPE water gaugehistogram
                water_bucket{le="+Inf"} 42.0
                water_gcount 42.0
                water_gsum 3289.3
                # TYPE state stateset
                state{entity="controller",state="a"} 1.0
                # TYPE about info
                about_info{entity="replica",name="prettier name",version="8.1.9"} 1.0
                # TYPE late counter
                late_total 17.0 1520879607.789
                # EOF
                """;
        List<MetricsText.Sample> samples = MetricsText.parse(text, true);
        assertThat(samples).filteredOn(sample -> sample.name().equals("foo_bucket")).extracting(
                MetricsText.Sample::value).containsExactly(0.0, 8.0, 11.0, 17.0, 17.0);
        assertThat(one(text, "water_gcount").grows()).isFalse();
        assertThat(one(text, "about_info").labels()).containsEntry("version", "8.1.9");
        assertThat(one(text, "late_total").value()).isEqualTo(17);
    }

    @Test
    void theLooserFormatIsReadToo() throws SourceFailure {
        List<MetricsText.Sample> samples = MetricsText.parse(
                """
                        # HELP http_requests_total The total number of HTTP requests.
                        # TYPE http_requests_total counter
                        http_requests_total{method="post",code="200"} 1027 1395066363000
                        http_requests_total{method="post",code="400"}    3 1395066363000

                        # Escaping in label values:
                        msdos_file_access_time_seconds{path="C:\\\\DIR\\\\FILE.TXT",error="Cannot find file:\\n\\"FILE.TXT\\""} 1.458255915e9

                        # Minimalistic line:
                        metric_without_timestamp_and_labels 12.47

                        # A weird metric from before the epoch:
                        something_weird{problem="division by zero"} +Inf -3982045
                        # TYPE rpc_duration_seconds summary
                        rpc_duration_seconds{quantile="0.01", } 3102
                        rpc_duration_seconds_sum 1.7560473e+07
                        """,
                false);
        assertThat(samples).extracting(MetricsText.Sample::value).containsExactly(1027.0, 3.0, 1.458255915e9, 12.47,
                Double.POSITIVE_INFINITY, 3102.0, 1.7560473e7);
        assertThat(samples.get(0).grows()).isTrue();
        assertThat(samples.get(2).labels()).containsEntry("path", "C:\\DIR\\FILE.TXT").containsEntry("error",
                "Cannot find file:\n\"FILE.TXT\"");
        assertThat(samples.get(5).grows()).isFalse();
        assertThat(samples.get(6).grows()).isTrue();
    }

    @Test
    void whatBreaksTheFormatIsToldByItsLine() {
        assertThatThrownBy(() -> MetricsText.parse("a 1\n", true)).isInstanceOf(SourceFailure.class)
                .hasMessageContaining("cut off");
        assertThatThrownBy(() -> MetricsText.parse("a 1\nb one\n# EOF\n", true))
                .hasMessage("line 2 of the metrics breaks the format: \"one\" is no number");
        assertThatThrownBy(() -> MetricsText.parse("a{x=\"1\" 1\n# EOF\n", true)).hasMessageContaining("comma");
        assertThatThrownBy(() -> MetricsText.parse("a{x=\"1\",x=\"2\"} 1\n# EOF\n", true))
                .hasMessageContaining("twice");
        assertThatThrownBy(() -> MetricsText.parse("a 1\n\n# EOF\n", true)).hasMessageContaining("empty");
        assertThatThrownBy(() -> MetricsText.parse("# EOF\na 1\n", true)).hasMessageContaining("follows");
        assertThatThrownBy(() -> MetricsText.parse("9a 1\n# EOF\n", true)).hasMessageContaining("name");
        assertThatThrownBy(() -> MetricsText.parse("a{x=\"1} 1\n# EOF\n", true)).hasMessageContaining("does not end");
    }
}
