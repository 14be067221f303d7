package kadrem.files.imports;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

import kadrem.core.study.Call;

/**
 * A call that was found somewhere.
 *
 * @param host name and port it went to; empty where the source names none
 * @param target path with query
 * @param body text of the body; empty where there is none
 * @param pause until the next call of the same user
 */
public record FoundCall(String method, String host, String target, List<Call.Header> headers, String body,
        Optional<Duration> pause) {
    public FoundCall {
        headers = List.copyOf(headers);
    }

    /** Whether the other sends the same. */
    boolean sends(FoundCall other) {
        return method.equals(other.method) && target.equals(other.target) && body.equals(other.body);
    }
}
