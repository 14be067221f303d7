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
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.DoubleConsumer;
import java.util.regex.Pattern;

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
    private static final int MOST_CALLS = 2_000;
    private static final int MOST_STRING = 256 * 1024 * 1024;
    private static final ObjectMapper MAPPER = JsonMapper.builder(com.fasterxml.jackson.core.JsonFactory.builder()
            .streamReadConstraints(StreamReadConstraints.builder().maxStringLength(MOST_STRING).build()).build())
            .build();
    private static final Pattern STATIC_NAME = Pattern.compile(
            "(?i).*\\.(css|js|mjs|map|png|jpe?g|gif|svg|webp|avif|ico|woff2?|ttf|otf|eot|mp4|webm|mp3|wasm|pdf)");

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
            if (!isStatic(entry)) {
                target(entry).ifPresent(uri -> hosts.merge(host(uri), 1L, Long::sum));
            }
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
        var sink = new Sink(hosts, keepStatic);
        read(file, progress, sink::take);
        if (sink.kept.isEmpty()) {
            throw new ImportException(file + " holds no call to " + String.join(", ", hosts)
                    + (keepStatic ? "" : " that is not a static file") + ". It was not imported.");
        }
        return sink.imported(file.getFileName().toString().replaceFirst("\\.[^.]*$", ""));
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

    private static boolean isStatic(JsonNode entry) {
        String type = entry.path("response").path("content").path("mimeType").asText().toLowerCase(Locale.ROOT);
        String path = target(entry).map(URI::getPath).orElse("");
        return type.startsWith("image/") || type.startsWith("font/") || type.startsWith("video/")
                || type.startsWith("audio/") || type.contains("css") || type.contains("javascript")
                || type.contains("font") || STATIC_NAME.matcher(path).matches();
    }

    /** Keeps what is wanted and counts what is not. */
    private static final class Sink {
        private final Set<String> hosts;
        private final boolean keepStatic;
        private final List<FoundCall> kept = new ArrayList<>();
        private final Map<String, Long> dropped = new LinkedHashMap<>();
        private final Set<String> secrets = new LinkedHashSet<>();
        private Optional<Instant> lastEnd = Optional.empty();

        Sink(Set<String> hosts, boolean keepStatic) {
            this.hosts = hosts;
            this.keepStatic = keepStatic;
            List.of("static files", "third parties", "equal calls", "not over HTTP", "over the limit of " + MOST_CALLS)
                    .forEach(reason -> dropped.put(reason, 0L));
        }

        private void drop(String reason) {
            dropped.merge(reason, 1L, Long::sum);
        }

        void take(JsonNode entry) {
            Optional<URI> uri = target(entry);
            if (uri.isEmpty()) {
                drop("not over HTTP");
            } else if (!hosts.contains(host(uri.get()))) {
                drop("third parties");
            } else if (!keepStatic && isStatic(entry)) {
                drop("static files");
            } else {
                keep(entry, uri.get());
            }
        }

        private void keep(JsonNode entry, URI uri) {
            JsonNode request = entry.path("request");
            var headers = new ArrayList<Call.Header>();
            for (JsonNode header : request.path("headers")) {
                String name = header.path("name").asText();
                if (Imported.isSecret(name)) {
                    secrets.add(name);
                }
                Imported.worthKeeping(name, header.path("value").asText()).ifPresent(headers::add);
            }
            String path = uri.getRawPath() == null || uri.getRawPath().isEmpty() ? "/" : uri.getRawPath();
            String target = path + (uri.getRawQuery() == null ? "" : "?" + uri.getRawQuery());
            var call = new FoundCall(request.path("method").asText("GET").toUpperCase(Locale.ROOT), host(uri), target,
                    headers, body(request.path("postData")), Optional.empty());
            Optional<Instant> begin = instant(entry);
            pauseBefore(begin);
            lastEnd = begin.map(at -> at.plusNanos((long) (Math.max(0, entry.path("time").asDouble()) * 1e6)));
            if (kept.stream().anyMatch(call::sends)) {
                drop("equal calls");
            } else if (kept.size() >= MOST_CALLS) {
                drop("over the limit of " + MOST_CALLS);
            } else {
                kept.add(call);
            }
        }

        /** The time from the end of the call before until this one began was the user's. */
        private void pauseBefore(Optional<Instant> begin) {
            if (!kept.isEmpty() && begin.isPresent() && lastEnd.isPresent()) {
                Duration pause = Duration.between(lastEnd.get(), begin.get());
                FoundCall before = kept.getLast();
                if (pause.isPositive() && pause.toMinutes() < 10 && before.pause().isEmpty()) {
                    kept.set(kept.size() - 1, new FoundCall(before.method(), before.host(), before.target(),
                            before.headers(), before.body(), Optional.of(pause)));
                }
            }
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
            post.path("params").forEach(one -> pairs.add(encode(one.path("name").asText()) + "="
                    + encode(one.path("value").asText())));
            return String.join("&", pairs);
        }

        private static String encode(String text) {
            return java.net.URLEncoder.encode(text, java.nio.charset.StandardCharsets.UTF_8);
        }

        Imported imported(String name) {
            return new Imported(name, kept, dropped, secrets.stream().map(Imported::secretNote).toList());
        }
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
