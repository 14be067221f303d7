package kadrem.core.study;

import java.util.Optional;

/**
 * One alternative.
 *
 * @param id short word used in files and folder names
 * @param launch how to start it; empty for something that already runs
 * @param ready path that answers with a 2xx status once the candidate can take load
 * @param reset the call that puts its data back to the start before each run
 * @param access sign-in and TLS
 * @param version path whose answer names the version for the fingerprint
 */
public record Candidate(String id, String name, Address address, Optional<Launch> launch, String ready,
        Optional<ControlCall> reset, Optional<String> version, Access access) {

    /** A candidate without sign-in. */
    public Candidate(String id, String name, Address address, Optional<Launch> launch, String ready,
            Optional<ControlCall> reset, Optional<String> version) {
        this(id, name, address, launch, ready, reset, version, Access.OPEN);
    }

    /** A call that prepares or asks a candidate and is not part of the load. */
    public record ControlCall(String method, String path) {
    }
}
