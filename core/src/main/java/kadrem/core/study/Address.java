package kadrem.core.study;

/**
 * Where a candidate answers: a host and port, every path below {@code basePath} (empty or "/x").
 *
 * @param secure whether over TLS
 */
public record Address(String host, int port, String basePath, boolean secure) {
    private static final int HTTP = 80;
    private static final int HTTPS = 443;

    /** An address without TLS. */
    public Address(String host, int port, String basePath) {
        this(host, port, basePath, false);
    }

    /** The port where an address of a scheme names none. */
    public static int usualPort(boolean secure) {
        return secure ? HTTPS : HTTP;
    }

    /** The value of the Host header. */
    public String authority() {
        String shown = host.contains(":") ? "[" + host + "]" : host;
        return port == usualPort(secure) ? shown : shown + ":" + port;
    }

    /** Whether the address cannot leave this machine: a loopback literal, or the name localhost. */
    public boolean isLoopback() {
        return host.equals("localhost") || host.equals("::1") || host.equals("0:0:0:0:0:0:0:1")
                || host.matches("127(\\.\\d{1,3}){3}");
    }

    @Override
    public String toString() {
        return (secure ? "https://" : "http://") + authority() + basePath;
    }
}
