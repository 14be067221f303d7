package kadrem.core.gate;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Set;

import com.google.re2j.Matcher;
import com.google.re2j.Pattern;

/**
 * Finds what looks like a credential: by how it is written, or by the name that stands before it. A find may be harmless, and what is
 * written like nothing in particular under a name that says nothing is not found.
 */
public final class Credentials {
    private static final int MIN = 4;
    /** Headers that hold credentials: RFC 9110, section 11; RFC 6265; the others are common practice, no source. */
    private static final Set<String> HEADERS = Set.of("authorization", "proxy-authorization", "cookie", "set-cookie",
            "x-api-key", "api-key", "x-auth-token");
    private static final String NAME = "[a-z0-9_.$-]*(?:passw(?:or)?d|passphrase|secret|token|api[_-]?key|private[_-]?key"
            + "|access[_-]?key|credential|session[_-]?id|authorization)[a-z0-9_-]*";
    /** Names that contain such a word and say something about a credential, not it. */
    private static final Pattern ABOUT = Pattern
            .compile("(?i)(address|url|uri|type|file|path|name|count|expires?([_-]?in)?|expiry"
                    + "|lifetime|length|limit|tokens|secrets|passwords|credentials|key[_-]?id)$");

    private record Way(String what, Pattern pattern, int group, boolean needsDigit) {
        static Way of(String what, String pattern) {
            return new Way(what, Pattern.compile(pattern), 0, false);
        }
    }

    private static final List<Way> WAYS = List.of(
            // RFC 7468, section 10
            Way.of("a private key", "-----BEGIN [A-Z ]*PRIVATE KEY-----"),
            // RFC 7515, section 3.1: a header is an object, which begins like this in Base64
            Way.of("a JSON Web Token", "\\beyJ[A-Za-z0-9_-]{8,}\\.[A-Za-z0-9_-]{4,}\\.[A-Za-z0-9_-]*"),
            // RFC 6750, section 2.1, and RFC 7617, section 2
            new Way("a credential of a header", Pattern.compile("(?i)\\b(?:bearer|basic)\\s+([a-z0-9._~+/-]{8,}=*)"), 1,
                    true),
            // RFC 3986, section 3.2.1
            new Way("a password in an address", Pattern.compile("://[^/\\s:@\"']+:([^/\\s@\"']+)@"), 1, false));

    /** A name, and after it a value as JSON, a form or a query, YAML or a command line writes it. */
    private static final Pattern NAMED = Pattern
            .compile("(?i)(?:[\"']?\\b|--?)(" + NAME + ")(?:[\"']\\s*:\\s*|\\s*[:=]\\s*|\\s+)"
                    + "(?:\"((?:[^\"\\\\\\n]|\\\\.)*)\"|'([^'\\n]*)'|([^\\s&\"',;:=}\\]]+=*))");

    /** Without one of these nothing is found; they are looked for first, as it takes far less time. */
    private static final List<String> HINTS = List.of("private key-----", "bearer", "basic", "://", "passw",
            "passphrase", "secret", "token", "apikey", "api_key", "api-key", "privatekey", "private_key", "private-key",
            "accesskey", "access_key", "access-key", "credential", "session", "authorization");
    private static final String TOKEN_BEGINS = "eyJ";

    private Credentials() {
    }

    /**
     * What was found.
     *
     * @param what in words, without the credential: "the value of password"
     * @param name that stands before it; empty where it was found by how it is written
     * @param begin place of its first character, and {@code end} of the one after its last
     */
    public record Find(String what, String name, int begin, int end) {
    }

    /** Whether a header of that name holds a credential. */
    public static boolean isHeader(String name) {
        return HEADERS.contains(name.toLowerCase(Locale.ROOT));
    }

    /** What is found in a text, in order; finds do not overlap. References to secrets are none. */
    public static List<Find> in(String text) {
        String lower = text.toLowerCase(Locale.ROOT);
        if (!text.contains(TOKEN_BEGINS) && HINTS.stream().noneMatch(lower::contains)) {
            return List.of();
        }
        var all = new ArrayList<Find>();
        for (Way way : WAYS) {
            Matcher matcher = way.pattern().matcher(text);
            while (matcher.find()) {
                String found = matcher.group(way.group());
                if ((!way.needsDigit() || found.chars().anyMatch(Character::isDigit)) && isNoReference(found)) {
                    all.add(new Find(way.what(), "", matcher.start(way.group()), matcher.end(way.group())));
                }
            }
        }
        Matcher named = NAMED.matcher(text);
        int from = 0;
        while (named.find(from)) {
            int group = named.start(2) >= 0 ? 2 : named.start(3) >= 0 ? 3 : 4;
            from = Math.max(named.end(1), named.start(group));
            boolean isOption = named.start(1) > 0 && text.charAt(named.start(1) - 1) == '-';
            boolean isTold = isOption || !text.substring(named.end(1), named.start(group)).isBlank();
            if (isTold && isValue(named.group(1), named.group(group))) {
                all.add(new Find("the value of " + named.group(1), named.group(1), named.start(group),
                        named.end(group)));
                from = named.end(group);
            }
        }
        all.sort(Comparator.comparingInt(Find::begin).thenComparing(Find::end, Comparator.reverseOrder()));
        var apart = new ArrayList<Find>();
        int end = -1;
        for (Find find : all) {
            if (find.begin() >= end) {
                apart.add(find);
                end = find.end();
            }
        }
        return apart;
    }

    private static boolean isValue(String name, String value) {
        boolean literal = value.matches("(?i)true|false|null|none|bearer|basic|digest|[0-9]{1,9}(\\.[0-9]+)?");
        return value.length() >= MIN && !literal && isNoReference(value) && !ABOUT.matcher(name).find();
    }

    private static boolean isNoReference(String value) {
        return !value.contains("{{") && !value.startsWith("(secret)") && !value.startsWith("$");
    }
}
