package kadrem.core.study;

/** Where a candidate answers: plain HTTP on a host and port, every path below {@code basePath} (empty or "/x"). */
public record Address(String host, int port, String basePath) {

    /** The value of the Host header. */
    public String authority() {
        String shown = host.contains(":") ? "[" + host + "]" : host;
        return port == 80 ? shown : shown + ":" + port;
    }

    /** Whether the address cannot leave this machine: a loopback literal, or the name localhost. */
    public boolean isLoopback() {
        return host.equals("localhost") || host.equals("::1") || host.equals("0:0:0:0:0:0:0:1")
                || host.matches("127(\\.\\d{1,3}){3}");
    }

    @Override
    public String toString() {
        return "http://" + authority() + basePath;
    }
}
