package kadrem.core.study;

import java.util.List;
import java.util.Optional;

/**
 * Something beside the candidate's launched process and this host that is watched while a run goes on. Secrets in it are
 * references only.
 */
public sealed interface WatchSource {
    /** The name by which its series are told apart; one of its kind in a candidate. */
    String name();

    /** The word for its kind that study files and screens use. */
    String kind();

    /** What is watched, in a few words. */
    String where();

    /**
     * A process and its descendants on this host.
     *
     * @param which its process id, or the file that holds it
     */
    record ProcessTree(String name, String which) implements WatchSource {
        @Override
        public String kind() {
            return "process";
        }

        @Override
        public String where() {
            return which;
        }
    }

    /**
     * A container or slice, through the files of control groups of version 2.
     *
     * @param folder folder of the group, such as /sys/fs/cgroup/system.slice/board.service
     */
    record ControlGroup(String name, String folder) implements WatchSource {
        @Override
        public String kind() {
            return "cgroup";
        }

        @Override
        public String where() {
            return folder;
        }
    }

    /**
     * A Java virtual machine.
     *
     * @param address host and port of its management connection; empty for the one that was launched, to which Kadrem
     *        attaches
     */
    record JavaMachine(String name, Optional<String> address) implements WatchSource {
        @Override
        public String kind() {
            return "jvm";
        }

        @Override
        public String where() {
            return address.orElse("the launched one");
        }
    }

    /**
     * A Linux host, asked over SSH.
     *
     * @param key file of the private key; empty for a password, or else for the agent
     * @param password reference to a secret; empty where there is none
     */
    record RemoteHost(String name, String user, String host, int port, Optional<String> key, String password)
            implements
            WatchSource {
        @Override
        public String kind() {
            return "ssh";
        }

        @Override
        public String where() {
            return user + "@" + host + (port == 22 ? "" : ":" + port);
        }
    }

    /** An address that answers in the OpenMetrics or Prometheus text format. */
    record MetricsEndpoint(String name, String address, List<Choice> series) implements WatchSource {
        public MetricsEndpoint {
            series = List.copyOf(series);
        }

        /**
         * Which of its series are taken, and how they are called.
         *
         * @param select name of a metric, with labels where only some are meant, as {@code calls_total{code="500"}}; what
         *        matches is added up
         * @param role one of the ids of {@code SeriesRole}
         */
        public record Choice(String select, String unit, String role) {
        }

        @Override
        public String kind() {
            return "metrics";
        }

        @Override
        public String where() {
            return address;
        }
    }

    /**
     * A database's own counters.
     *
     * @param database JDBC address
     * @param user empty where the address needs none
     * @param password reference to a secret; empty where there is none
     * @param query answers with one row, a series a column, or with rows of a name and a number
     * @param counters names of the series that only grow, and are turned into rates
     */
    record Counters(String name, String database, String user, String password, String query, List<String> counters)
            implements
            WatchSource {
        public Counters {
            counters = List.copyOf(counters);
        }

        @Override
        public String kind() {
            return "sql";
        }

        @Override
        public String where() {
            return database;
        }
    }
}
