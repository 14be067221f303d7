package kadrem.core.study;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * One alternative.
 *
 * @param id short word used in files and folder names
 * @param launch how to start it; empty for something that already runs
 * @param ready path that answers with a 2xx status once the candidate can take load; where it speaks another protocol what its driver
 *            asks for that, as a statement of SQL
 * @param reset what puts its data back to the start before each run
 * @param access sign-in and TLS
 * @param version path whose answer names the version for the fingerprint
 * @param watch what is watched during its runs beside this host and its launched process
 * @param data what is asked when it was reset, whose answer tells what data it holds: a count, a digest
 * @param elsewhere where it answers crowds that do not go to its address, by their names, in the order of the study
 */
public record Candidate(String id, String name, Address address, Optional<Launch> launch, String ready,
        Optional<Reset> reset, Optional<String> version, Access access, List<WatchSource> watch,
        Optional<Reset> data, Map<String, Entrance> elsewhere) {
    /** The path that is asked where a study says none. */
    public static final String USUAL_READY = "/";

    public Candidate {
        watch = List.copyOf(watch);
        elsewhere = Collections.unmodifiableMap(new LinkedHashMap<>(elsewhere));
    }

    /** A candidate that all crowds find at one address. */
    public Candidate(String id, String name, Address address, Optional<Launch> launch, String ready,
            Optional<Reset> reset, Optional<String> version, Access access, List<WatchSource> watch,
            Optional<Reset> data) {
        this(id, name, address, launch, ready, reset, version, access, watch, data, Map.of());
    }

    /** The same candidate with another of its entrances: what is only of its own address is left out. */
    public Candidate at(Entrance other) {
        return new Candidate(id, name, other.address(), launch, USUAL_READY, Optional.empty(), Optional.empty(),
                other.access());
    }

    /** Whether any of its entrances is on this machine. */
    public boolean isHere() {
        return Stream.concat(Stream.of(address), elsewhere.values().stream().map(Entrance::address))
                .anyMatch(Address::isLoopback);
    }

    /** Where it answers a crowd. */
    public Entrance entrance(String crowd) {
        return elsewhere.getOrDefault(crowd, new Entrance(address, access));
    }

    /** A candidate that is not asked for its data. */
    public Candidate(String id, String name, Address address, Optional<Launch> launch, String ready,
            Optional<Reset> reset, Optional<String> version, Access access, List<WatchSource> watch) {
        this(id, name, address, launch, ready, reset, version, access, watch, Optional.empty());
    }

    /** A candidate of which only its launched process and this host are watched. */
    public Candidate(String id, String name, Address address, Optional<Launch> launch, String ready,
            Optional<Reset> reset, Optional<String> version, Access access) {
        this(id, name, address, launch, ready, reset, version, access, List.of());
    }

    /** A candidate without sign-in. */
    public Candidate(String id, String name, Address address, Optional<Launch> launch, String ready,
            Optional<Reset> reset, Optional<String> version) {
        this(id, name, address, launch, ready, reset, version, Access.OPEN);
    }

    /** How a candidate's data is put back to the start. */
    public sealed interface Reset {
        /** The words used on screens and in messages. */
        String words();
    }

    /** A call that prepares a candidate and is not part of the load. */
    public record ControlCall(String method, String path) implements Reset {
        @Override
        public String words() {
            return method + " " + path;
        }
    }

    /**
     * Statements that are sent to a database, one after the other.
     *
     * @param database JDBC address
     * @param user empty where the address needs none
     * @param password reference to a secret; empty where there is none
     */
    public record ControlSql(String database, String user, String password, List<String> statements)
            implements
            Reset {
        public ControlSql {
            statements = List.copyOf(statements);
        }

        @Override
        public String words() {
            return "SQL on " + database + ": " + String.join("; ", statements);
        }
    }

    /** Words in the candidate's own protocol, such as a statement of SQL or a command to a store. */
    public record ControlAsk(String words) implements Reset {
    }

    /** A command, run in the candidate's working folder; a code other than 0 is a failure. */
    public record ControlCommand(List<String> command) implements Reset {
        public ControlCommand {
            command = List.copyOf(command);
        }

        @Override
        public String words() {
            return String.join(" ", command);
        }
    }
}
