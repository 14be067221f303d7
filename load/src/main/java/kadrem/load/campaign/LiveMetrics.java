package kadrem.load.campaign;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.time.Duration;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.function.ToDoubleFunction;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import io.prometheus.metrics.expositionformats.OpenMetricsTextFormatWriter;
import io.prometheus.metrics.model.snapshots.CounterSnapshot;
import io.prometheus.metrics.model.snapshots.CounterSnapshot.CounterDataPointSnapshot;
import io.prometheus.metrics.model.snapshots.GaugeSnapshot;
import io.prometheus.metrics.model.snapshots.GaugeSnapshot.GaugeDataPointSnapshot;
import io.prometheus.metrics.model.snapshots.Labels;
import io.prometheus.metrics.model.snapshots.MetricSnapshots;
import io.prometheus.metrics.model.snapshots.Unit;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.SecondSummary;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Serves the figures of a campaign while it goes on, on loopback and in the OpenMetrics format (OpenMetrics 1.0), for dashboards that the
 * user has. Hands on everything it is told. Counting is done once a second, on the threads that tell; asking costs nothing to the
 * lanes.
 */
public final class LiveMetrics extends HandingOn implements AutoCloseable {
    public static final String PATH = "/metrics";
    private static final Logger LOG = LoggerFactory.getLogger(LiveMetrics.class);

    private final OpenMetricsTextFormatWriter writer = OpenMetricsTextFormatWriter.create();
    private final Map<String, Total> totals = new ConcurrentHashMap<>();
    private Optional<HttpServer> server = Optional.empty();
    private volatile int ended;
    private volatile int planned;

    /** What a candidate's calls came to, over all runs of the campaign, and its last second. */
    private record Total(int round, long good, Map<FailureKind, Long> failed, SecondSummary last) {
        Total plus(int nowRound, SecondSummary second) {
            var sum = new EnumMap<>(failed);
            second.failed().forEach((kind, count) -> sum.merge(kind, count, Long::sum));
            return new Total(nowRound, good + second.good(), sum, second);
        }

        static Total of(int round, SecondSummary second) {
            var failed = new EnumMap<FailureKind, Long>(FailureKind.class);
            for (FailureKind kind : FailureKind.values()) {
                failed.put(kind, second.failed().getOrDefault(kind, 0L));
            }
            return new Total(round, second.good(), failed, second);
        }
    }

    /** @param next who else listens */
    public LiveMetrics(CampaignListener next) {
        super(next);
    }

    /**
     * Begins to serve what was counted so far and is counted from now on; nothing changes where it serves already.
     *
     * @param port on loopback; 0 for any that is free
     * @return where the figures are
     * @throws IOException if the port is in use
     */
    public synchronized URI serve(int port) throws IOException {
        if (server.isEmpty()) {
            HttpServer made = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 0);
            made.createContext(PATH, this::answer);
            // who does not read what he asked for holds nobody else up
            made.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
            made.start();
            server = Optional.of(made);
        }
        return URI.create("http://127.0.0.1:" + server.get().getAddress().getPort() + PATH);
    }

    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            var text = new ByteArrayOutputStream();
            writer.write(text, snapshots());
            exchange.getResponseHeaders().set("Content-Type", OpenMetricsTextFormatWriter.CONTENT_TYPE);
            exchange.sendResponseHeaders(200, text.size());
            text.writeTo(exchange.getResponseBody());
        } catch (RuntimeException cause) {
            LOG.warn("the figures could not be served", cause);
        }
    }

    private MetricSnapshots snapshots() {
        var calls = CounterSnapshot.builder().name("kadrem_calls").help("Calls that ended, by candidate and outcome.");
        var failures = CounterSnapshot.builder().name("kadrem_failures").help("Failed calls by kind.");
        var response = GaugeSnapshot.builder().name("kadrem_response_last_second_seconds").unit(Unit.SECONDS)
                .help("Response times of the last second, by percentile.");
        totals.forEach((candidate, total) -> {
            long failed = total.failed().values().stream().mapToLong(Long::longValue).sum();
            calls.dataPoint(point(total.good(), "candidate", candidate, "outcome", "good"));
            calls.dataPoint(point(failed, "candidate", candidate, "outcome", "failed"));
            total.failed().forEach((kind, count) -> failures
                    .dataPoint(point(count, "candidate", candidate, "kind", kind.id())));
            response.dataPoint(gauge(LatencySummary.comparable(total.last().p50()) / 1e9, "candidate", candidate,
                    "percentile", "50"));
            response.dataPoint(gauge(LatencySummary.comparable(total.last().p95()) / 1e9, "candidate", candidate,
                    "percentile", "95"));
            response.dataPoint(gauge(LatencySummary.comparable(total.last().p99()) / 1e9, "candidate", candidate,
                    "percentile", "99"));
        });
        return new MetricSnapshots(List.of(calls.build(), failures.build(), response.build(),
                ofCandidates("kadrem_users", "Calls under way, or users at work, in the last second.",
                        total -> total.last().busy()),
                ofCandidates("kadrem_backlog", "Arrivals that wait for a connection.", total -> total.last().backlog()),
                ofCandidates("kadrem_generator_lag_seconds", "The generator's own delay in the last second, p99.",
                        total -> total.last().lateP99() / 1e9),
                ofCandidates("kadrem_round", "The round under way.", Total::round),
                GaugeSnapshot.builder().name("kadrem_runs_ended").help("Runs of this campaign that have ended.")
                        .dataPoint(gauge(ended)).build(),
                GaugeSnapshot.builder().name("kadrem_runs_planned").help("Runs of this campaign.")
                        .dataPoint(gauge(planned)).build()));
    }

    private GaugeSnapshot ofCandidates(String name, String help, ToDoubleFunction<Total> value) {
        var gauge = GaugeSnapshot.builder().name(name).help(help);
        totals.forEach(
                (candidate, total) -> gauge.dataPoint(gauge(value.applyAsDouble(total), "candidate", candidate)));
        return gauge.build();
    }

    private static CounterDataPointSnapshot point(double value, String... labels) {
        return CounterDataPointSnapshot.builder().value(value).labels(Labels.of(labels)).build();
    }

    private static GaugeDataPointSnapshot gauge(double value, String... labels) {
        return GaugeDataPointSnapshot.builder().value(value).labels(Labels.of(labels)).build();
    }

    @Override
    public void runBegins(RunRecord run, int number, int of, Duration left) {
        planned = of;
        super.runBegins(run, number, of, left);
    }

    @Override
    public void second(RunRecord run, SecondSummary second) {
        totals.compute(run.candidate(), (_, known) -> known == null
                ? Total.of(run.round(), second)
                : known.plus(run.round(), second));
        super.second(run, second);
    }

    @Override
    public void runEnds(RunRecord run, int number, int of, Duration left) {
        ended = number;
        super.runEnds(run, number, of, left);
    }

    @Override
    public synchronized void close() {
        server.ifPresent(one -> one.stop(0));
        server = Optional.empty();
    }
}
