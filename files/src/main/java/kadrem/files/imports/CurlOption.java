package kadrem.files.imports;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * An option of {@code curl}, as its manual (version 8) has them.
 *
 * @param name in its long form
 * @param takesValue whether a value follows
 * @param role what it means for a call
 * @param why of an option that is refused: what to do about it
 */
record CurlOption(String name, boolean takesValue, Role role, String why) {
    enum Role {
        /** It changes what is sent or how, and is taken over. */
        TAKEN,
        /** It changes nothing of what is sent. */
        WITHOUT_EFFECT,
        /** It changes what is sent or how, in a way that a study cannot say, or not yet. */
        REFUSED
    }

    private static final Map<String, CurlOption> ALL = new LinkedHashMap<>();
    private static final Map<String, String> SHORT = new HashMap<>();
    private static final String PROXY = "Calls go to the candidate itself. Take it out, or give the candidate the"
            + " proxy's address if the proxy is to be measured.";
    private static final String ELSEWHERE = "It sends elsewhere than the address says. Write the address that is meant.";
    private static final String SIGN_IN = "Calls cannot sign in like this. Use -u with or without --digest, or a header.";
    private static final String FILE = "It reads a file of this machine. Copy the file into the study's values folder, and"
            + " name it in study.yaml.";
    private static final String CERTIFICATE = "Take it out, and write the certificate under tls of the candidate.";
    private static final String HTTP = "Calls speak HTTP/1.1 or HTTP/2. Take it out.";

    static {
        taken(false, "get G", "head I", "insecure k", "location L", "location-trusted", "compressed", "http2",
                "http2-prior-knowledge", "digest", "basic", "no-keepalive", "no-sessionid", "globoff g");
        taken(true, "request X", "header H", "data d", "data-raw", "data-binary", "data-ascii", "data-urlencode",
                "json",
                "user u", "cookie b", "cookie-jar c", "form F", "form-string", "url", "url-query", "user-agent A",
                "referer e", "range r", "max-time m", "max-redirs", "oauth2-bearer", "request-target", "unix-socket");
        without(false, "silent s", "show-error S", "verbose v", "include i", "show-headers", "fail f", "fail-with-body",
                "fail-early", "no-buffer N", "progress-bar #", "no-progress-meter", "raw", "remote-name O",
                "remote-name-all", "remote-header-name J", "create-dirs", "remote-time R", "tcp-nodelay",
                "tcp-fastopen", "http1.1", "ipv4 4", "ipv6 6", "ssl-reqd", "styled-output", "disable q", "parallel Z",
                "path-as-is", "trace-time", "junk-session-cookies j", "keepalive", "alpn", "tlsv1", "tlsv1.2",
                "tlsv1.3", "post301", "post302", "post303", "retry-connrefused", "retry-all-errors", "no-clobber");
        without(true, "output o", "write-out w", "retry", "retry-delay", "retry-max-time", "max-filesize",
                "connect-timeout", "dump-header D", "trace", "trace-ascii", "stderr", "output-dir", "keepalive-time",
                "libcurl", "parallel-max", "limit-rate", "speed-limit Y", "speed-time y", "tls-max");
        refused(true, PROXY, "proxy x", "preproxy", "socks4", "socks4a", "socks5", "socks5-hostname", "proxy-user U",
                "proxy-header", "proxy1.0", "noproxy", "proxy-cacert", "proxy-cert", "proxy-key", "proxy-ciphers");
        refused(false, PROXY, "proxytunnel p", "proxy-insecure", "proxy-basic", "proxy-digest", "proxy-ntlm",
                "proxy-negotiate", "proxy-anyauth");
        refused(true, ELSEWHERE, "resolve", "connect-to", "interface", "local-port", "dns-servers", "dns-interface",
                "doh-url", "abstract-unix-socket", "haproxy-clientip", "proto-default");
        refused(false, ELSEWHERE, "haproxy-protocol");
        refused(true, SIGN_IN, "aws-sigv4", "login-options", "service-name", "delegation", "netrc-file");
        refused(false, SIGN_IN, "ntlm", "negotiate", "anyauth", "netrc n", "netrc-optional");
        refused(true, FILE, "upload-file T", "config K", "etag-compare", "etag-save", "variable", "engine", "hsts",
                "alt-svc", "continue-at C", "time-cond z");
        refused(true, CERTIFICATE, "cacert", "capath", "cert E", "cert-type", "key", "key-type", "pass", "ciphers",
                "tls13-ciphers", "pinnedpubkey", "crlfile", "curves");
        refused(false, HTTP, "http1.0 0", "http3", "http3-only", "http0.9", "tr-encoding");
        refused(true, "It is not for HTTP. Take it out.", "quote Q", "postquote", "prequote", "ftp-port P",
                "telnet-option t", "mail-from", "mail-rcpt");
        refused(false, "It is not for HTTP. Take it out.", "list-only l", "append a", "use-ascii B", "ftp-pasv",
                "manual M", "help h", "version V");
        refused(false, "Write the text as it is to be sent.", "form-escape");
    }

    private static void add(String names, boolean takesValue, Role role, String why) {
        String[] both = names.split(" ");
        ALL.put("--" + both[0], new CurlOption("--" + both[0], takesValue, role, why));
        if (both.length > 1) {
            SHORT.put(both[1], "--" + both[0]);
        }
    }

    private static void taken(boolean takesValue, String... names) {
        for (String name : names) {
            add(name, takesValue, Role.TAKEN, "");
        }
    }

    private static void without(boolean takesValue, String... names) {
        for (String name : names) {
            add(name, takesValue, Role.WITHOUT_EFFECT, "");
        }
    }

    private static void refused(boolean takesValue, String why, String... names) {
        for (String name : names) {
            add(name, takesValue, Role.REFUSED, why);
        }
    }

    /** @param name with its two hyphens */
    static Optional<CurlOption> named(String name) {
        return Optional.ofNullable(ALL.get(name));
    }

    /** @param letter without a hyphen */
    static Optional<CurlOption> lettered(String letter) {
        return Optional.ofNullable(SHORT.get(letter)).flatMap(CurlOption::named);
    }
}
