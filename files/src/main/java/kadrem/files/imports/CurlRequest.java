package kadrem.files.imports;

import java.net.URI;
import java.net.URISyntaxException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import kadrem.core.study.Call;
import kadrem.core.study.grammar.Words;

/** What the options of one {@code curl} command come to: calls, and how its candidate is spoken to. */
final class CurlRequest {
    private static final Map<String, String> PART_KINDS = Map.of("application/json", "json", "application/xml", "xml",
            "text/xml", "xml", "text/plain", "text");
    /** {@code name=value;type=application/json}. */
    private static final Pattern PART = Pattern.compile("(?s)([^=]+)=(.*?)(?:;type=([^;]+))?");
    private static final int USUAL_REDIRECTS = 50;
    /** The longest that a call of a study may take. */
    private static final int MAX_SECONDS = 600;

    private final List<FoundCall> calls;
    private final Map<String, Object> candidate;
    private final Set<String> notes;
    private final List<String> addresses = new ArrayList<>();
    private final List<Call.Header> headers = new ArrayList<>();
    private final List<Call.Header> usual = new ArrayList<>();
    private final List<String> data = new ArrayList<>();
    private final List<FoundCall.Part> parts = new ArrayList<>();
    private final List<String> queries = new ArrayList<>();
    private final Map<String, Object> wire = new LinkedHashMap<>();
    private String json = "";
    private String method = "";
    private String target = "";
    private String user = "";
    private String signIn = "basic";
    private Optional<Duration> timeout = Optional.empty();
    private boolean inQuery;
    private boolean literal;
    private boolean verifies = true;

    /**
     * @param calls to which those of this command are added
     * @param candidate to which the fields of the candidate are added that the command tells
     * @param notes to which is added what the user should know
     */
    CurlRequest(List<FoundCall> calls, Map<String, Object> candidate, Set<String> notes) {
        this.calls = calls;
        this.candidate = candidate;
        this.notes = notes;
    }

    void address(String address) {
        addresses.add(address);
    }

    void take(CurlOption option, String value, int line) throws ImportException {
        if (option.role() == CurlOption.Role.REFUSED) {
            throw new ImportException(
                    "Line " + line + ": the option " + option.name() + " cannot be taken over. " + option.why());
        }
        switch (option.name()) {
            case "--url" -> address(value);
            case "--request" -> method = value.toUpperCase(Locale.ROOT);
            case "--request-target" -> target = value;
            case "--header" -> header(value, line);
            case "--user-agent" -> headers.add(new Call.Header("User-Agent", value));
            case "--referer" -> headers.add(new Call.Header("Referer", value.replaceFirst(";auto$", "")));
            case "--range" -> headers.add(new Call.Header("Range", "bytes=" + value));
            case "--cookie" -> cookie(value, line);
            case "--cookie-jar" -> wire.put("cookies", "true");
            case "--data", "--data-ascii", "--data-binary" -> data.add(content(option, value, line));
            case "--data-raw" -> data.add(value);
            case "--data-urlencode" -> data.add(urlencoded(value, line));
            case "--url-query" ->
                queries.add(value.startsWith("+") ? value.substring(1) : urlencoded(value, line));
            case "--json" -> json += content(option, value, line);
            case "--form" -> parts.add(part(value, line));
            case "--form-string" -> parts.add(plainPart(value, line));
            case "--get" -> inQuery = true;
            case "--head" -> method = method.isEmpty() ? "HEAD" : method;
            case "--globoff" -> literal = true;
            case "--max-time" -> timeout = Optional.of(limit(value, line));
            case "--user" -> user = value;
            case "--digest" -> signIn = "digest";
            case "--oauth2-bearer" -> headers.add(new Call.Header("Authorization", "Bearer " + value));
            default -> setting(option.name(), value);
        }
    }

    private static Duration limit(String value, int line) throws ImportException {
        return Words.number(value).filter(seconds -> seconds > 0 && seconds <= MAX_SECONDS)
                .map(seconds -> Duration.ofMillis(Math.max(1, Math.round(seconds * 1000))))
                .orElseThrow(() -> new ImportException("Line " + line + ": the option --max-time is " + value
                        + ". Write seconds above 0 and up to " + MAX_SECONDS + ", or take it out."));
    }

    /** What is a field of the candidate and not of a call. */
    private void setting(String option, String value) {
        switch (option) {
            case "--insecure" -> verifies = false;
            case "--location", "--location-trusted" ->
                wire.putIfAbsent("redirects", Integer.toString(USUAL_REDIRECTS));
            case "--max-redirs" -> wire.put("redirects", value);
            case "--compressed" -> wire.put("accept", List.of("gzip", "deflate", "br", "zstd"));
            case "--http2", "--http2-prior-knowledge" -> wire.put("protocol", "http/2");
            case "--no-keepalive" -> wire.put("connections", "per-call");
            case "--no-sessionid" -> wire.put("resumption", "false");
            case "--unix-socket" -> wire.put("socket", value);
            default -> {
                // changes nothing of what is sent
            }
        }
    }

    private void header(String text, int line) throws ImportException {
        if (text.startsWith("@")) {
            throw file("-H", text.substring(1), line);
        }
        if (text.endsWith(";") && text.indexOf(':') < 0) {
            headers.add(new Call.Header(text.substring(0, text.length() - 1).strip(), ""));
            return;
        }
        int colon = text.indexOf(':');
        if (colon <= 0) {
            throw new ImportException("Line " + line + ": \"" + text
                    + "\" is no header. Write it like this: -H 'Accept: text/plain'");
        }
        String value = text.substring(colon + 1).strip();
        // without a value it takes away a header that curl would send by itself, and calls do not
        if (!value.isEmpty()) {
            Imported.worthKeeping(text.substring(0, colon).strip(), value).ifPresent(headers::add);
        }
    }

    private void cookie(String value, int line) throws ImportException {
        if (!value.contains("=")) {
            throw file("-b", value, line);
        }
        headers.add(new Call.Header("Cookie", value));
    }

    private static ImportException file(String option, String file, int line) {
        return new ImportException("Line " + line + ": " + option + " reads the file " + file
                + ". Copy it into the study's values folder, and write file: values/… in study.yaml; or write here what it"
                + " holds.");
    }

    private static String content(CurlOption option, String value, int line) throws ImportException {
        if (value.startsWith("@")) {
            throw file(option.name(), value.substring(1), line);
        }
        return value;
    }

    private static String urlencoded(String value, int line) throws ImportException {
        int equals = value.indexOf('=');
        int file = value.indexOf('@');
        if (file >= 0 && (equals < 0 || file < equals)) {
            throw file("--data-urlencode", value.substring(file + 1), line);
        }
        return CommandImport.encodedPair(value);
    }

    private FoundCall.Part plainPart(String value, int line) throws ImportException {
        int equals = value.indexOf('=');
        if (equals <= 0) {
            throw noPart(value, line);
        }
        return new FoundCall.Part(value.substring(0, equals), value.substring(equals + 1), "");
    }

    private static ImportException noPart(String value, int line) {
        return new ImportException("Line " + line + ": the part " + value
                + " cannot be taken over. Write it like this: -F 'note=hello;type=text/plain'");
    }

    private static FoundCall.Part part(String value, int line) throws ImportException {
        Matcher matcher = PART.matcher(value);
        if (!matcher.matches()) {
            throw noPart(value, line);
        }
        String text = matcher.group(2);
        if (text.startsWith("@") || text.startsWith("<")) {
            throw file("-F", text.substring(1), line);
        }
        String type = matcher.group(3) == null ? "" : matcher.group(3).strip();
        boolean more = text.matches("(?s).*;(filename|headers|encoder)=.*");
        if (more || !type.isEmpty() && !PART_KINDS.containsKey(type)) {
            throw noPart(value, line);
        }
        boolean quoted = text.length() > 1 && text.startsWith("\"") && text.endsWith("\"");
        return new FoundCall.Part(matcher.group(1), quoted ? text.substring(1, text.length() - 1) : text,
                type.isEmpty() ? "" : PART_KINDS.getOrDefault(type, ""));
    }

    /** Adds the calls of the command. */
    void end(int line) throws ImportException {
        if (addresses.isEmpty()) {
            throw new ImportException("Line " + line + ": the command names no address.");
        }
        String sent = json.isEmpty() ? String.join("&", data) : json;
        String body = inQuery ? "" : sent;
        boolean sends = !inQuery && (!data.isEmpty() || !json.isEmpty());
        if (inQuery) {
            add(queries, sent);
        }
        if (!json.isEmpty()) {
            usual.add(new Call.Header("Content-Type", "application/json"));
            usual.add(new Call.Header("Accept", "application/json"));
        } else if (sends) {
            usual.add(new Call.Header("Content-Type", "application/x-www-form-urlencoded"));
        }
        Map<String, Call.Header> once = new LinkedHashMap<>();
        headers.forEach(header -> once.put(header.name().toLowerCase(Locale.ROOT), header));
        usual.forEach(header -> once.putIfAbsent(header.name().toLowerCase(Locale.ROOT), header));
        if (!parts.isEmpty()) {
            // it would lack the boundary
            once.remove("content-type");
        }
        String asked = method.isEmpty() ? sends || !parts.isEmpty() ? "POST" : "GET" : method;
        for (String address : addresses) {
            URI uri = uri(address, line);
            calls.add(new FoundCall(asked, uri.getScheme() + "://" + uri.getRawAuthority().replaceFirst("^.*@", ""),
                    target.isEmpty() ? target(uri) : target, List.copyOf(once.values()), body, parts, Optional.empty(),
                    timeout, Answer.of(""), Map.of(), false));
            if (uri.getUserInfo() != null) {
                user = uri.getUserInfo();
            }
        }
        tellCandidate();
    }

    private String target(URI uri) {
        var query = new ArrayList<String>();
        add(query, uri.getRawQuery() == null ? "" : uri.getRawQuery());
        query.addAll(queries);
        String path = uri.getRawPath() == null || uri.getRawPath().isEmpty() ? "/" : uri.getRawPath();
        return path + (query.isEmpty() ? "" : "?" + String.join("&", query));
    }

    private static void add(List<String> texts, String text) {
        if (!text.isEmpty()) {
            texts.add(text);
        }
    }

    private URI uri(String address, int line) throws ImportException {
        if (!literal && address.replaceFirst("^([a-z]+://)?\\[[^\\]]*]", "").matches(".*[\\[{].*")) {
            throw new ImportException("Line " + line + ": " + address + " holds braces or brackets, which stand for"
                    + " several addresses. Write each of them out, or add -g if they are meant as they are.");
        }
        try {
            var uri = new URI(address.contains("://") ? address : "http://" + address);
            if (uri.getHost() == null || !List.of("http", "https").contains(uri.getScheme())) {
                throw new ImportException(
                        "Line " + line + ": \"" + address
                                + "\" is no address of HTTP. Begin it with http:// or https://");
            }
            return uri;
        } catch (URISyntaxException cause) {
            throw new ImportException("Line " + line + ": \"" + address + "\" is no address: " + cause.getReason()
                    + ". Write what may not stand in one percent-encoded (RFC 3986).");
        }
    }

    private void tellCandidate() {
        if (!verifies) {
            candidate.put("tls", Map.of("verify", "false"));
        }
        if (!wire.isEmpty()) {
            candidate.put("wire", Map.copyOf(wire));
        }
        if (!user.isEmpty()) {
            int colon = user.indexOf(':');
            candidate.put("signIn", Map.of(signIn, Map.of("user", colon < 0 ? user : user.substring(0, colon),
                    "password", "{{env:" + References.OURS + "PASSWORD}}")));
            notes.add(
                    "the password of the user was not taken over: the candidate signs in with the environment variable "
                            + References.OURS + "PASSWORD, which has to be set");
        }
    }
}
