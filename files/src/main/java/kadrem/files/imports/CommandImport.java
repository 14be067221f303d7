package kadrem.files.imports;

import java.net.URI;
import java.net.URISyntaxException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

import kadrem.core.gate.Credentials;
import kadrem.core.study.Call;

/** Reads a pasted {@code curl} command line, as browsers and handbooks give it. */
public final class CommandImport {
    private static final Set<String> WITHOUT_EFFECT = Set.of("-s", "--silent", "-S", "--show-error", "-v", "--verbose",
            "-i", "--include", "-L", "--location", "--compressed", "-k", "--insecure", "-f", "--fail", "-N",
            "--no-buffer", "-g", "--globoff", "--http1.1", "--http2");
    private static final Set<String> WITHOUT_EFFECT_WITH_VALUE = Set.of("-o", "--output", "-m", "--max-time",
            "--connect-timeout", "-w", "--write-out", "--retry", "-A", "--user-agent", "-e", "--referer");
    private static final Map<String, String> LONG = Map.of("-X", "--request", "-H", "--header", "-d", "--data", "-u",
            "--user", "-b", "--cookie", "-G", "--get", "-I", "--head", "-F", "--form");

    private final List<String> words;
    private final List<Call.Header> headers = new ArrayList<>();
    private final List<String> data = new ArrayList<>();
    private final Set<String> notes = new LinkedHashSet<>();
    private String method = "";
    private String url = "";
    private boolean inQuery;

    private CommandImport(List<String> words) {
        this.words = words;
    }

    /** @throws ImportException if it is not such a command; the message says what is in the way */
    public static Imported read(String text) throws ImportException {
        List<String> words = words(text.strip());
        if (words.isEmpty() || !words.getFirst().replaceFirst(".*/", "").equals("curl")) {
            throw new ImportException("This is no curl command: it begins with \""
                    + (words.isEmpty() ? "" : words.getFirst()) + "\".");
        }
        return new CommandImport(words.subList(1, words.size())).read();
    }

    private Imported read() throws ImportException {
        for (int i = 0; i < words.size(); i++) {
            String word = words.get(i);
            if (!word.startsWith("-") || word.equals("-")) {
                url = word;
                continue;
            }
            // -XPOST and --request=POST are -X POST
            String option = word;
            Optional<String> attached = Optional.empty();
            if (word.startsWith("--") && word.contains("=")) {
                option = word.substring(0, word.indexOf('='));
                attached = Optional.of(word.substring(word.indexOf('=') + 1));
            } else
                if (!word.startsWith("--") && word.length() > 2 && takesValue(LONG.getOrDefault(word.substring(0, 2),
                        word.substring(0, 2)))) {
                            option = word.substring(0, 2);
                            attached = Optional.of(word.substring(2));
                        }
            option = LONG.getOrDefault(option, option);
            if (takesValue(option) && attached.isEmpty()) {
                if (++i >= words.size()) {
                    throw new ImportException("The option " + word + " has no value; is the command complete?");
                }
                attached = Optional.of(words.get(i));
            }
            take(option, attached.orElse(""));
        }
        return imported();
    }

    private static boolean takesValue(String option) {
        return Set.of("--request", "--header", "--data", "--data-raw", "--data-binary", "--data-ascii",
                "--data-urlencode", "--json", "--user", "--cookie", "--form", "--url").contains(option)
                || WITHOUT_EFFECT_WITH_VALUE.contains(option);
    }

    private void take(String option, String value) throws ImportException {
        switch (option) {
            case "--request" -> method = value.toUpperCase(Locale.ROOT);
            case "--header" -> header(value);
            case "--data", "--data-raw", "--data-binary", "--data-ascii" -> data.add(content(value));
            case "--data-urlencode" -> data.add(encoded(value));
            case "--json" -> {
                data.add(content(value));
                headers.add(new Call.Header("Content-Type", "application/json"));
                headers.add(new Call.Header("Accept", "application/json"));
            }
            case "--user" -> notes.add("the user and password of -u were not taken over: write the header"
                    + " Authorization with a reference to a secret");
            case "--cookie" -> notes.add(Imported.secretNote("Cookie"));
            case "--get" -> inQuery = true;
            case "--head" -> method = "HEAD";
            case "--url" -> url = value;
            case "--form" -> notes.add("a part of a multipart body (" + value
                    + ") was not taken over: write it under parts in study.yaml");
            default -> {
                boolean harmless = WITHOUT_EFFECT.contains(option) || WITHOUT_EFFECT_WITH_VALUE.contains(option)
                        || option.matches("-[sSvikLfNg]+");
                if (!harmless) {
                    notes.add("the option " + option + " is not known here and was passed over");
                }
            }
        }
    }

    private void header(String line) {
        int colon = line.indexOf(':');
        if (colon <= 0) {
            notes.add("the header \"" + line + "\" was passed over");
            return;
        }
        String name = line.substring(0, colon).strip();
        if (Credentials.isHeader(name)) {
            notes.add(Imported.secretNote(name));
        }
        Imported.worthKeeping(name, line.substring(colon + 1).strip()).ifPresent(headers::add);
    }

    private static String content(String value) throws ImportException {
        if (value.startsWith("@")) {
            throw new ImportException("The body comes from the file " + value.substring(1)
                    + ". Copy it into the study's values folder and write file: values/… in study.yaml.");
        }
        return value;
    }

    private static String encoded(String value) {
        int at = value.indexOf('=');
        String name = at < 0 ? "" : value.substring(0, at);
        String text = URLEncoder.encode(at < 0 ? value : value.substring(at + 1), StandardCharsets.UTF_8);
        return name.isEmpty() ? text : name + "=" + text;
    }

    private Imported imported() throws ImportException {
        URI uri;
        try {
            uri = new URI(url.contains("://") ? url : "http://" + url);
        } catch (URISyntaxException cause) {
            throw new ImportException("\"" + url + "\" is no address: " + cause.getReason() + ".");
        }
        if (url.isEmpty() || uri.getHost() == null) {
            throw new ImportException("The command names no address.");
        }
        String body = String.join("&", data);
        String query = uri.getRawQuery() == null ? "" : uri.getRawQuery();
        if (inQuery && !body.isEmpty()) {
            query = query.isEmpty() ? body : query + "&" + body;
            body = "";
        }
        boolean form = !body.isEmpty()
                && headers.stream().noneMatch(header -> header.name().equalsIgnoreCase("content-type"));
        if (form) {
            headers.add(new Call.Header("Content-Type", "application/x-www-form-urlencoded"));
        }
        String path = uri.getRawPath() == null || uri.getRawPath().isEmpty() ? "/" : uri.getRawPath();
        Map<String, Call.Header> once = new LinkedHashMap<>();
        headers.forEach(header -> once.putIfAbsent(header.name().toLowerCase(Locale.ROOT), header));
        var call = new FoundCall(method.isEmpty() ? body.isEmpty() ? "GET" : "POST" : method,
                uri.getPort() < 0 ? uri.getHost() : uri.getHost() + ":" + uri.getPort(),
                path + (query.isEmpty() ? "" : "?" + query), List.copyOf(once.values()), body, Optional.empty());
        return new Imported("pasted", List.of(call), Map.of(), List.copyOf(notes));
    }

    /** Words as a POSIX shell would make them: quotes, backslashes, continued lines, and bash's {@code $'…'}. */
    private static List<String> words(String text) throws ImportException {
        var words = new ArrayList<String>();
        StringBuilder word = null;
        int i = 0;
        while (i < text.length()) {
            char c = text.charAt(i);
            if (Character.isWhitespace(c)) {
                if (word != null) {
                    words.add(word.toString());
                    word = null;
                }
                i++;
                continue;
            }
            if (c == '\\' && i + 1 < text.length() && (text.charAt(i + 1) == '\n' || text.charAt(i + 1) == '\r')) {
                i += text.startsWith("\r\n", i + 1) ? 3 : 2;
                continue;
            }
            word = word == null ? new StringBuilder() : word;
            if (c == '\'') {
                int end = text.indexOf('\'', i + 1);
                word.append(text, i + 1, closed(end));
                i = end + 1;
            } else if (c == '"' || c == '$' && text.startsWith("$'", i)) {
                i = quoted(text, c == '"' ? i + 1 : i + 2, c == '"' ? '"' : '\'', word);
            } else if (c == '\\' && i + 1 < text.length()) {
                word.append(text.charAt(i + 1));
                i += 2;
            } else {
                word.append(c);
                i++;
            }
        }
        if (word != null) {
            words.add(word.toString());
        }
        return words;
    }

    private static int closed(int end) throws ImportException {
        if (end < 0) {
            throw new ImportException("A quote is not closed; is the command complete?");
        }
        return end;
    }

    /** Appends what is quoted and returns the place after the closing quote. */
    private static int quoted(String text, int from, char quote, StringBuilder word) throws ImportException {
        int i = from;
        while (i < text.length() && text.charAt(i) != quote) {
            char c = text.charAt(i);
            if (c == '\\' && i + 1 < text.length()) {
                char next = text.charAt(i + 1);
                i += 2;
                if (quote == '\'') {
                    i = escaped(text, i, next, word);
                } else if ("\\\"$`".indexOf(next) >= 0) {
                    word.append(next);
                } else if (next != '\n') {
                    word.append('\\').append(next);
                }
            } else {
                word.append(c);
                i++;
            }
        }
        return closed(i < text.length() ? i : -1) + 1;
    }

    private static int escaped(String text, int after, char letter, StringBuilder word) {
        switch (letter) {
            case 'n' -> word.append('\n');
            case 't' -> word.append('\t');
            case 'r' -> word.append('\r');
            case 'u' -> {
                int end = Math.min(after + 4, text.length());
                String digits = text.substring(after, end);
                if (digits.matches("[0-9a-fA-F]{4}")) {
                    word.append((char) Integer.parseInt(digits, 16));
                    return end;
                }
                word.append("\\u");
            }
            default -> word.append(letter);
        }
        return after;
    }
}
