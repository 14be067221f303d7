package kadrem.core.study;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Where a candidate answers, and in which protocol.
 *
 * @param protocol id of the protocol that is spoken there
 * @param scheme first word of the address as it is written
 * @param host name or number of the host; "localhost" for what runs in this process or is a file of this machine
 * @param port 0 where there is none
 * @param basePath what follows host and port: empty or "/x". Of an address that is not of host and port it is all behind the
 *            first colon
 * @param secure whether over TLS
 */
public record Address(String protocol, String scheme, String host, int port, String basePath, boolean secure) {
    private static final Pattern OF_HOST = Pattern
            .compile("([a-z][a-z0-9+.-]*)://(\\[[0-9A-Fa-f:.]+]|[A-Za-z0-9._-]+)(?::(\\d{1,5}))?(/[^?#\\s]*)?");
    private static final int HTTP = 80;
    private static final int HTTPS = 443;
    private static final int MAX_PORT = 65_535;

    /** An address of HTTP without TLS. */
    public Address(String host, int port, String basePath) {
        this(host, port, basePath, false);
    }

    /** An address of HTTP. */
    public Address(String host, int port, String basePath, boolean secure) {
        this(Http.ID, secure ? "https" : "http", host, port, basePath, secure);
    }

    /** This address, at which another protocol is spoken over the same wire. */
    public Address speaking(String other) {
        return new Address(other, scheme, host, port, basePath, secure);
    }

    /**
     * An address {@code scheme://host:port/path}.
     *
     * @param plain scheme without TLS, and {@code overTls} with it; the same word where there is none
     * @param usualPort the port where none is named; 0 where one must be
     * @return empty where the text is none
     */
    public static Optional<Address> ofHost(String text, String protocol, String plain, String overTls, int usualPort) {
        Matcher matcher = OF_HOST.matcher(text);
        if (!matcher.matches() || !matcher.group(1).equals(plain) && !matcher.group(1).equals(overTls)) {
            return Optional.empty();
        }
        int port = matcher.group(3) == null ? usualPort : Integer.parseInt(matcher.group(3));
        String path = matcher.group(4) == null ? "" : matcher.group(4).replaceAll("/+$", "");
        boolean secure = matcher.group(1).equals(overTls) && !plain.equals(overTls);
        return port < 1 || port > MAX_PORT
                ? Optional.empty()
                : Optional.of(new Address(protocol, matcher.group(1), matcher.group(2).replaceAll("[\\[\\]]", ""), port,
                        path, secure));
    }

    /** The port where an address of HTTP names none. */
    public static int usualPort(boolean secure) {
        return secure ? HTTPS : HTTP;
    }

    /** Whether something listens there to connections of TCP. */
    public boolean hasPort() {
        return port > 0;
    }

    /** The value of the Host header. */
    public String authority() {
        String shown = host.contains(":") ? "[" + host + "]" : host;
        boolean usual = scheme.equals("http") && port == HTTP || scheme.equals("https") && port == HTTPS;
        return usual ? shown : shown + ":" + port;
    }

    /** Whether the address cannot leave this machine: a loopback literal, or the name localhost. */
    public boolean isLoopback() {
        return host.equals("localhost") || host.equals("::1") || host.equals("0:0:0:0:0:0:0:1")
                || host.matches("127(\\.\\d{1,3}){3}");
    }

    private boolean isOfHost() {
        return basePath.isEmpty() && hasPort() || basePath.startsWith("/");
    }

    @Override
    public String toString() {
        return isOfHost() ? scheme + "://" + authority() + basePath : scheme + ":" + basePath;
    }
}
