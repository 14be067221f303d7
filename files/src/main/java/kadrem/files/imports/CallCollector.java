package kadrem.files.imports;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.regex.Pattern;

import kadrem.core.gate.Credentials;
import kadrem.core.study.Call;

/**
 * Takes calls as they were made and keeps those that are wanted: static files, third parties and equal calls are counted
 * and left out; the time between an answer and the next call becomes the pause before it. One thread at a time.
 */
public final class CallCollector {
    private static final int MAX_CALLS = 2_000;
    private static final long MAX_PAUSE_MINUTES = 10;
    private static final Pattern STATIC_NAME = Pattern.compile(
            "(?i)[^?]*\\.(css|js|mjs|map|png|jpe?g|gif|svg|webp|avif|ico|woff2?|ttf|otf|eot|mp4|webm|mp3|wasm|pdf)(\\?.*)?");

    private final Predicate<String> wantedHost;
    private final boolean keepStatic;
    private final List<FoundCall> kept = new ArrayList<>();
    private final Map<String, Long> dropped = new LinkedHashMap<>();
    private final Set<String> secrets = new LinkedHashSet<>();
    private Optional<Instant> lastEnd = Optional.empty();

    /** @param keepStatic whether style sheets, scripts, pictures and fonts stay */
    public CallCollector(Predicate<String> wantedHost, boolean keepStatic) {
        this.wantedHost = wantedHost;
        this.keepStatic = keepStatic;
        List.of("static files", "third parties", "equal calls", "not over HTTP", "over the limit of " + MAX_CALLS)
                .forEach(reason -> dropped.put(reason, 0L));
    }

    /** Whether an answer of that type, or a name that ends like that, is a static file's. */
    public static boolean isStatic(String target, String contentType) {
        String type = contentType.toLowerCase(Locale.ROOT);
        return type.startsWith("image/") || type.startsWith("font/") || type.startsWith("video/")
                || type.startsWith("audio/") || type.contains("css") || type.contains("javascript")
                || type.contains("font") || STATIC_NAME.matcher(target).matches();
    }

    /** Counts a call that could not be taken. */
    void drop(String reason) {
        dropped.merge(reason, 1L, Long::sum);
    }

    /**
     * Takes one call.
     *
     * @param contentType of its answer
     * @param begun when it began, and {@code took} how long it lasted, where that is known
     */
    public void take(String method, String host, String target, List<Call.Header> headers, String body,
            String contentType, Optional<Instant> begun, Duration took) {
        if (!wantedHost.test(host)) {
            drop("third parties");
            return;
        }
        if (!keepStatic && isStatic(target, contentType)) {
            drop("static files");
            return;
        }
        var worth = new ArrayList<Call.Header>();
        for (Call.Header header : headers) {
            if (Credentials.isHeader(header.name())) {
                secrets.add(header.name());
            }
            Imported.worthKeeping(header.name(), header.value()).ifPresent(worth::add);
        }
        var call = new FoundCall(method.toUpperCase(Locale.ROOT), host, target, worth, body, Optional.empty());
        pauseBefore(begun);
        lastEnd = begun.map(at -> at.plus(took));
        if (kept.stream().anyMatch(call::sends)) {
            drop("equal calls");
        } else if (kept.size() >= MAX_CALLS) {
            drop("over the limit of " + MAX_CALLS);
        } else {
            kept.add(call);
        }
    }

    /** The time from the end of the call before until this one began was the user's. */
    private void pauseBefore(Optional<Instant> begun) {
        if (!kept.isEmpty() && begun.isPresent() && lastEnd.isPresent()) {
            Duration pause = Duration.between(lastEnd.get(), begun.get());
            FoundCall before = kept.getLast();
            if (pause.isPositive() && pause.toMinutes() < MAX_PAUSE_MINUTES && before.pause().isEmpty()) {
                kept.set(kept.size() - 1, new FoundCall(before.method(), before.host(), before.target(),
                        before.headers(), before.body(), Optional.of(pause)));
            }
        }
    }

    /** Whether nothing was kept. */
    public boolean isEmpty() {
        return kept.isEmpty();
    }

    /** What was kept so far, as a visit of that name. */
    public Imported imported(String name) {
        return new Imported(name, kept, dropped, secrets.stream().map(Imported::secretNote).toList());
    }
}
