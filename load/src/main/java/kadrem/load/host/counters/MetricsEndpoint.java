package kadrem.load.host.counters;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;

import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;
import kadrem.core.study.WatchSource;
import kadrem.load.host.HostSource;
import kadrem.load.host.Series;
import kadrem.load.host.SourceFailure;

/** Chosen series of an address that answers in a text format of metrics; totals become rates. */
public final class MetricsEndpoint implements HostSource {
    private static final Duration PATIENCE = Duration.ofSeconds(5);
    private static final int OK = 200;
    private static final int MAX_BYTES = 16 << 20;
    private static final String OPEN_METRICS = "application/openmetrics-text";

    private final WatchSource.MetricsEndpoint source;
    private final Series series;
    private final List<Chosen> chosen;
    private final HttpClient client = HttpClient.newBuilder().connectTimeout(PATIENCE).build();
    private final HttpRequest request;

    private record Chosen(WatchSource.MetricsEndpoint.Choice choice, String name, Map<String, String> labels) {
        boolean matches(MetricsText.Sample sample) {
            return sample.name().equals(name) && sample.labels().entrySet().containsAll(labels.entrySet());
        }
    }

    private MetricsEndpoint(WatchSource.MetricsEndpoint source, List<Chosen> chosen) {
        this.source = source;
        this.chosen = chosen;
        series = new Series(source.name());
        request = HttpRequest.newBuilder(URI.create(source.address())).timeout(PATIENCE)
                .header("Accept", OPEN_METRICS + ";version=1.0.0,text/plain;version=0.0.4;q=0.5").build();
    }

    /** @throws SourceFailure if a choice cannot be read */
    public static MetricsEndpoint open(WatchSource.MetricsEndpoint source) throws SourceFailure {
        var chosen = new ArrayList<Chosen>();
        for (WatchSource.MetricsEndpoint.Choice choice : source.series()) {
            try {
                // a choice is written as a sample without its value
                MetricsText.Sample sample = MetricsText.parse(choice.select().strip() + " 0", false).getFirst();
                chosen.add(new Chosen(choice, sample.name(), sample.labels()));
            } catch (SourceFailure cause) {
                throw new SourceFailure("the choice " + choice.select() + " is not like name{label=\"value\"}", cause);
            }
        }
        return new MetricsEndpoint(source, List.copyOf(chosen));
    }

    @Override
    public List<WatchReading.Value> read() throws SourceFailure {
        HttpResponse<byte[]> answer = ask();
        String text = new String(answer.body(), StandardCharsets.UTF_8);
        if (answer.statusCode() != OK) {
            throw new SourceFailure(source.address() + " answers with status " + answer.statusCode());
        }
        boolean strict = answer.headers().firstValue("Content-Type").orElse("").startsWith(OPEN_METRICS);
        List<MetricsText.Sample> samples = MetricsText.parse(text, strict);
        series.at(System.nanoTime());
        int found = 0;
        for (Chosen one : chosen) {
            List<MetricsText.Sample> matching = samples.stream().filter(one::matches).toList();
            if (!matching.isEmpty()) {
                found++;
                add(one, matching);
            }
        }
        if (found == 0) {
            throw new SourceFailure("none of the chosen series is among the " + samples.size() + " that "
                    + source.address() + " tells");
        }
        return series.values();
    }

    private void add(Chosen one, List<MetricsText.Sample> matching) {
        SeriesRole role = SeriesRole.byId(one.choice().role()).orElse(SeriesRole.CUSTOM);
        double sum = matching.stream().mapToDouble(MetricsText.Sample::value).sum();
        MetricsText.Sample first = matching.getFirst();
        String unit = one.choice().unit().isEmpty() ? first.unit() : one.choice().unit();
        if (first.grows()) {
            series.rate(one.choice().select(), unit.endsWith("/s") ? unit : unit + "/s", role, sum);
        } else {
            series.level(one.choice().select(), unit, role, sum);
        }
    }

    /** One answer, whole within the patience and the size that there is. */
    private HttpResponse<byte[]> ask() throws SourceFailure {
        CompletableFuture<HttpResponse<byte[]>> answer = client.sendAsync(request,
                HttpResponse.BodyHandlers.limiting(HttpResponse.BodyHandlers.ofByteArray(), MAX_BYTES));
        try {
            return answer.get(PATIENCE.toMillis(), TimeUnit.MILLISECONDS);
        } catch (ExecutionException cause) {
            Throwable why = Objects.requireNonNullElse(cause.getCause(), cause);
            throw new SourceFailure(source.address() + " does not answer: "
                    + (why.getMessage() == null ? why.getClass().getSimpleName() : why.getMessage()), cause);
        } catch (TimeoutException cause) {
            answer.cancel(true);
            throw new SourceFailure(source.address() + " did not answer whole within " + PATIENCE.toSeconds() + " s",
                    cause);
        } catch (InterruptedException cause) {
            answer.cancel(true);
            Thread.currentThread().interrupt();
            throw new SourceFailure("interrupted", cause);
        }
    }

    @Override
    public void close() {
        // an answer that is still coming is not waited for
        client.shutdownNow();
    }
}
