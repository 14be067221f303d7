package kadrem.files.imports;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

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
    private boolean withCookies;
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
     * @param origin name and port of where it went, after its scheme where that is known
     * @param answer what it was answered
     * @param begun when it began, and {@code took} how long it lasted, where that is known
     */
    public void take(String method, String origin, String target, List<Call.Header> headers, String body,
            Answer answer, Optional<Instant> begun, Duration took) {
        if (!wantedHost.test(origin.replaceFirst("^[a-z]+://", ""))) {
            drop("third parties");
            return;
        }
        if (!keepStatic && isStatic(target, answer.contentType())) {
            drop("static files");
            return;
        }
        var worth = new ArrayList<Call.Header>();
        for (Call.Header header : headers) {
            if (header.name().equalsIgnoreCase("cookie")) {
                withCookies = true;
                signedInBy(header.value());
            } else {
                Imported.worthKeeping(header.name(), header.value()).ifPresent(worth::add);
            }
        }
        var call = new FoundCall(method.toUpperCase(Locale.ROOT), origin, target, worth, body, Optional.empty())
                .answered(answer);
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

    /** What sent something and was given a cookie that is carried now has signed the user in. */
    private void signedInBy(String cookies) {
        Set<String> carried = Arrays.stream(cookies.split(";")).map(String::strip).collect(Collectors.toSet());
        kept.replaceAll(call -> call.method().equals("GET") || Collections.disjoint(call.answer().cookies(), carried)
                ? call
                : call.first());
    }

    /** The time from the end of the call before until this one began was the user's. */
    private void pauseBefore(Optional<Instant> begun) {
        if (!kept.isEmpty() && begun.isPresent() && lastEnd.isPresent()) {
            Duration pause = Duration.between(lastEnd.get(), begun.get());
            FoundCall before = kept.getLast();
            if (pause.isPositive() && pause.toMinutes() < MAX_PAUSE_MINUTES && before.pause().isEmpty()) {
                kept.set(kept.size() - 1, before.withPause(pause));
            }
        }
    }

    /** Whether nothing was kept. */
    public boolean isEmpty() {
        return kept.isEmpty();
    }

    /** What was kept so far, as a visit of that name. */
    public Imported imported(String name) {
        return withCookies
                ? Imported.of(name, kept, dropped,
                        List.of("cookies were not taken over: each user keeps those that it is given (wire: {cookies: true})"),
                        Map.of("wire", Map.of("cookies", "true")))
                : Imported.of(name, kept, dropped, List.of());
    }
}
