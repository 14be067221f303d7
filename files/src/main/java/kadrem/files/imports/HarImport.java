package kadrem.files.imports;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.DoubleConsumer;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.json.JsonMapper;
import kadrem.core.study.Call;

/**
 * Reads captures in the HTTP Archive format 1.2, an entry at a time, so that the memory it takes does not grow with the
 * file.
 */
public final class HarImport {
    private static final int MAX_STRING = 256 * 1024 * 1024;
    private static final ObjectMapper MAPPER = JsonMapper.builder(com.fasterxml.jackson.core.JsonFactory.builder()
            .streamReadConstraints(StreamReadConstraints.builder().maxStringLength(MAX_STRING).build()).build())
            .build();

    private HarImport() {
    }

    /**
     * What a capture holds.
     *
     * @param hosts entries by host, without static files; those of a host with port as "host:port"
     * @param entries number of all entries
     */
    public record Survey(Map<String, Long> hosts, long entries) {
        /** The host with the most entries. */
        public Optional<String> busiest() {
            return hosts.entrySet().stream().max(Map.Entry.comparingByValue()).map(Map.Entry::getKey);
        }
    }

    /**
     * Counts entries by host.
     *
     * @param progress told of the share read so far, 0 to 1
     */
    public static Survey survey(Path file, DoubleConsumer progress) throws ImportException {
        Map<String, Long> hosts = new TreeMap<>();
        var count = new long[1];
        read(file, progress, entry -> {
            count[0]++;
            target(entry).filter(uri -> !CallCollector.isStatic(target(uri), contentType(entry)))
                    .ifPresent(uri -> hosts.merge(host(uri), 1L, Long::sum));
        });
        return new Survey(hosts, count[0]);
    }

    /**
     * Takes the calls to the hosts wanted.
     *
     * @param hosts as {@link Survey#hosts()} names them
     * @param keepStatic whether style sheets, scripts, pictures and fonts stay
     * @param progress told of the share read so far, 0 to 1
     */
    public static Imported read(Path file, Set<String> hosts, boolean keepStatic, DoubleConsumer progress)
            throws ImportException {
        var collector = new CallCollector(hosts::contains, keepStatic);
        read(file, progress, entry -> take(collector, entry));
        if (collector.isEmpty()) {
            throw new ImportException(file + " holds no call to " + String.join(", ", hosts)
                    + (keepStatic ? "" : " that is not a static file") + ". It was not imported.");
        }
        return collector.imported(file.getFileName().toString().replaceFirst("\\.[^.]*$", ""));
    }

    private interface Taker {
        void take(JsonNode entry);
    }

    private static void read(Path file, DoubleConsumer progress, Taker taker) throws ImportException {
        long size;
        try {
            size = Math.max(1, Files.size(file));
        } catch (IOException cause) {
            throw new ImportException(file + " cannot be read: " + cause.getMessage());
        }
        boolean entries = false;
        try (var counted = new Counted(Files.newInputStream(file)); JsonParser parser = MAPPER.createParser(counted)) {
            if (parser.nextToken() != JsonToken.START_OBJECT) {
                throw new ImportException(file + " is not an HTTP Archive: it does not begin with an object.");
            }
            for (JsonToken token = parser.nextToken(); token != null; token = parser.nextToken()) {
                boolean found = token == JsonToken.FIELD_NAME && parser.currentName().equals("entries")
                        && parser.nextToken() == JsonToken.START_ARRAY;
                while (found && parser.nextToken() == JsonToken.START_OBJECT) {
                    entries = true;
                    taker.take(MAPPER.readTree(parser));
                    progress.accept((double) counted.count / size);
                }
                entries |= found;
            }
        } catch (JsonProcessingException cause) {
            int line = cause.getLocation() == null ? 1 : cause.getLocation().getLineNr();
            throw new ImportException(file + ", line " + line + ": this is not valid JSON ("
                    + cause.getOriginalMessage().lines().findFirst().orElse("")
                    + "). Save the capture again as an HTTP Archive; nothing was changed.");
        } catch (IOException cause) {
            throw new ImportException(file + " cannot be read: " + cause.getMessage());
        }
        if (!entries) {
            throw new ImportException(file + " is not an HTTP Archive 1.2: it has no list log.entries.");
        }
        progress.accept(1);
    }

    private static Optional<URI> target(JsonNode entry) {
        try {
            var uri = new URI(entry.path("request").path("url").asText().replaceFirst("#.*$", ""));
            boolean http = "http".equals(uri.getScheme()) || "https".equals(uri.getScheme());
            return http && uri.getHost() != null ? Optional.of(uri) : Optional.empty();
        } catch (URISyntaxException _) {
            return Optional.empty();
        }
    }

    private static String host(URI uri) {
        return uri.getPort() < 0 ? uri.getHost() : uri.getHost() + ":" + uri.getPort();
    }

    private static String contentType(JsonNode entry) {
        return entry.path("response").path("content").path("mimeType").asText();
    }

    private static String target(URI uri) {
        String path = uri.getRawPath() == null || uri.getRawPath().isEmpty() ? "/" : uri.getRawPath();
        return path + (uri.getRawQuery() == null ? "" : "?" + uri.getRawQuery());
    }

    private static void take(CallCollector collector, JsonNode entry) {
        Optional<URI> uri = target(entry);
        if (uri.isEmpty()) {
            collector.drop("not over HTTP");
            return;
        }
        JsonNode request = entry.path("request");
        var headers = new ArrayList<Call.Header>();
        request.path("headers").forEach(
                header -> headers.add(new Call.Header(header.path("name").asText(), header.path("value").asText())));
        collector.take(request.path("method").asText("GET"), uri.get().getScheme() + "://" + host(uri.get()),
                target(uri.get()), headers,
                body(request.path("postData")), answer(entry), instant(entry),
                Duration.ofNanos((long) (Math.max(0, entry.path("time").asDouble()) * 1e6)));
    }

    private static Answer answer(JsonNode entry) {
        JsonNode response = entry.path("response");
        var headers = new ArrayList<Call.Header>();
        response.path("headers").forEach(
                header -> headers.add(new Call.Header(header.path("name").asText(), header.path("value").asText())));
        boolean plain = response.path("content").path("encoding").asText().isEmpty();
        return Answer.of(contentType(entry), headers, plain ? response.path("content").path("text").asText() : "");
    }

    private static Optional<Instant> instant(JsonNode entry) {
        try {
            return Optional.of(OffsetDateTime.parse(entry.path("startedDateTime").asText()).toInstant());
        } catch (DateTimeException _) {
            return Optional.empty();
        }
    }

    /** Text of the body; parameters of a form, where only they are there, in the form's encoding. */
    private static String body(JsonNode post) {
        if (!post.path("text").asText().isEmpty() || !post.path("params").isArray()) {
            return post.path("text").asText();
        }
        var pairs = new ArrayList<String>();
        post.path("params").forEach(
                one -> pairs.add(encode(one.path("name").asText()) + "=" + encode(one.path("value").asText())));
        return String.join("&", pairs);
    }

    private static String encode(String text) {
        return java.net.URLEncoder.encode(text, java.nio.charset.StandardCharsets.UTF_8);
    }

    /** Counts the bytes read. */
    private static final class Counted extends FilterInputStream {
        private long count;

        Counted(InputStream in) {
            super(in);
        }

        @Override
        public int read() throws IOException {
            int b = super.read();
            count += b < 0 ? 0 : 1;
            return b;
        }

        @Override
        public int read(byte[] bytes, int from, int length) throws IOException {
            int read = super.read(bytes, from, length);
            count += Math.max(0, read);
            return read;
        }
    }
}
