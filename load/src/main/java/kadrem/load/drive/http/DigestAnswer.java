package kadrem.load.drive.http;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The answer to a challenge of HTTP Digest (RFC 7616): MD5, SHA-256 and SHA-512/256 with or without "-sess", with
 * {@code qop=auth} or, as RFC 2069 had it, without. Confined to one user.
 */
final class DigestAnswer {
    private static final Pattern PARAMETER = Pattern
            .compile("([a-zA-Z0-9_-]+)\\s*=\\s*(?:\"((?:[^\"\\\\]|\\\\.)*)\"|([^\\s,]+))");
    private static final List<String> ALGORITHMS = List.of("SHA-512-256", "SHA-256", "MD5");

    private final String user;
    private final String password;
    private final String realm;
    private final String nonce;
    private final Optional<String> opaque;
    private final String algorithm;
    private final boolean session;
    private final boolean hasQuality;
    private final String clientNonce;
    private int count;

    private DigestAnswer(String user, String password, Map<String, String> challenge, String clientNonce) {
        this.user = user;
        this.password = password;
        this.clientNonce = clientNonce;
        realm = challenge.getOrDefault("realm", "");
        nonce = challenge.getOrDefault("nonce", "");
        opaque = Optional.ofNullable(challenge.get("opaque"));
        String named = challenge.getOrDefault("algorithm", "MD5").toUpperCase(Locale.ROOT);
        session = named.endsWith("-SESS");
        algorithm = session ? named.substring(0, named.length() - "-SESS".length()) : named;
        hasQuality = challenge.containsKey("qop");
    }

    /**
     * The answer to the strongest challenge that can be answered; empty where there is none.
     *
     * @param challenges values of the WWW-Authenticate headers
     * @param clientNonce the client's own part, a word that differs between users
     */
    static Optional<DigestAnswer> to(List<String> challenges, String user, String password, String clientNonce) {
        Map<String, Map<String, String>> byAlgorithm = new LinkedHashMap<>();
        for (String challenge : challenges) {
            if (challenge.regionMatches(true, 0, "Digest ", 0, 7)) {
                Map<String, String> parameters = parameters(challenge.substring(7));
                String quality = parameters.getOrDefault("qop", "auth");
                boolean usable = List.of(quality.split("[\\s,]+")).contains("auth");
                String named = parameters.getOrDefault("algorithm", "MD5").toUpperCase(Locale.ROOT)
                        .replaceFirst("-SESS$", "");
                if (usable && parameters.containsKey("nonce")) {
                    byAlgorithm.putIfAbsent(named, parameters);
                }
            }
        }
        return ALGORITHMS.stream().flatMap(one -> Optional.ofNullable(byAlgorithm.get(one)).stream()).findFirst()
                .map(one -> new DigestAnswer(user, password, one, clientNonce));
    }

    private static Map<String, String> parameters(String text) {
        Map<String, String> parameters = new LinkedHashMap<>();
        Matcher matcher = PARAMETER.matcher(text);
        while (matcher.find()) {
            String value = matcher.group(2) == null ? matcher.group(3) : matcher.group(2).replaceAll("\\\\(.)", "$1");
            parameters.put(matcher.group(1).toLowerCase(Locale.ROOT), value);
        }
        return parameters;
    }

    /** The value of the Authorization header for the next request; each has a count of its own. */
    String authorization(String method, String target) {
        count++;
        String counted = String.format(Locale.ROOT, "%08x", count);
        String first = hash(user + ":" + realm + ":" + password);
        if (session) {
            first = hash(first + ":" + nonce + ":" + clientNonce);
        }
        String second = hash(method + ":" + target);
        String response = hasQuality
                ? hash(first + ":" + nonce + ":" + counted + ":" + clientNonce + ":auth:" + second)
                : hash(first + ":" + nonce + ":" + second);
        return "Digest username=\"" + quoted(user) + "\", realm=\"" + quoted(realm) + "\", uri=\"" + target
                + "\", algorithm=" + algorithm + (session ? "-sess" : "") + ", nonce=\"" + quoted(nonce) + "\""
                + (hasQuality ? ", nc=" + counted + ", cnonce=\"" + clientNonce + "\", qop=auth" : "") + ", response=\""
                + response + "\"" + opaque.map(text -> ", opaque=\"" + quoted(text) + "\"").orElse("");
    }

    private static String quoted(String text) {
        return text.replace("\\", "\\\\").replace("\"", "\\\"");
    }

    private String hash(String text) {
        try {
            String name = algorithm.equals("SHA-512-256") ? "SHA-512/256" : algorithm;
            return HexFormat.of().formatHex(MessageDigest.getInstance(name)
                    .digest(text.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("the JDK has " + algorithm, impossible);
        }
    }
}
