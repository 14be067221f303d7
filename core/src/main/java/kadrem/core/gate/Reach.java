package kadrem.core.gate;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * One thing that a study would have done outside its own folder. The user's word is given to its {@link #deed}, which tells all of it:
 * two that differ in more than the candidate have different words.
 */
public sealed interface Reach {
    /** Id of the candidate it is for. */
    String who();

    /** What it is for, in a word or two, as "launch" or "reset". */
    String purpose();

    /** What would be done, whole, on one line or several; without characters that are not seen. */
    String what();

    /** What would be done by all of its kind, as in "It would run on this machine". */
    String heading();

    /** The headings, the one that is most to be looked at first. */
    List<String> HEADINGS = List.of(Runs.HEADING, Reveals.HEADING, Goes.HEADING, Reads.HEADING, Tells.HEADING);

    /** All of it but for whom, to which the user's word is given: "launch: ./serve.sh --port 8080". */
    default String deed() {
        return Shown.line(purpose()) + ": " + what();
    }

    /** All of it: "pool, launch: ./serve.sh --port 8080". */
    default String words() {
        return Shown.line(who()) + ", " + deed();
    }

    /** A line for each thing that words name. */
    private static String digests(Map<String, String> named) {
        var lines = new StringBuilder();
        new TreeMap<>(named).forEach((name, digest) -> lines.append("\n    ").append(Shown.word(name))
                .append(" has the SHA-256 ").append(digest));
        return lines.toString();
    }

    /**
     * A program that is run on this machine.
     *
     * @param folder in which it runs, as the study names it
     * @param environment variables that are set for it
     * @param input what it reads; empty for nothing
     * @param files SHA-256 of what its words name, by its name: files, and value lists of which a row is filled in; they may change while
     *            the words stay
     */
    record Runs(String who, String purpose, List<String> command, String folder, Map<String, String> environment,
            String input, Map<String, String> files) implements Reach {
        private static final String HEADING = "run on this machine, with your rights";

        public Runs {
            command = List.copyOf(command);
            environment = Map.copyOf(environment);
            files = Map.copyOf(files);
        }

        /** One that needs nothing, and of whose files nothing is known. */
        public static Runs of(String who, String purpose, List<String> command, String folder) {
            return new Runs(who, purpose, command, folder, Map.of(), "", Map.of());
        }

        /** The same with what its files are. */
        public Runs withFiles(Map<String, String> found) {
            return new Runs(who, purpose, command, folder, environment, input, found);
        }

        @Override
        public String heading() {
            return HEADING;
        }

        @Override
        public String what() {
            var words = new StringBuilder();
            new TreeMap<>(environment).forEach((name, value) -> words.append(Shown.line(name)).append('=')
                    .append(Shown.word(value)).append(' '));
            words.append(Shown.command(command));
            if (!folder.equals(".")) {
                words.append("   (in ").append(Shown.word(folder)).append(')');
            }
            if (!input.isEmpty()) {
                words.append("\n    reads: ").append(Shown.line(input));
            }
            return words.append(digests(files)).toString();
        }
    }

    /**
     * Words that a server carries out, as statements of SQL are, which may do more there than answer.
     *
     * @param rows SHA-256 of the value lists of which a row is filled in, by their placeholder
     */
    record Tells(String who, String purpose, String to, String said, Map<String, String> rows) implements Reach {
        private static final String HEADING = "tell servers that may do more than answer";

        public Tells {
            rows = Map.copyOf(rows);
        }

        /** Words into which nothing is filled. */
        public Tells(String who, String purpose, String to, String said) {
            this(who, purpose, to, said, Map.of());
        }

        /** The same with what its rows are. */
        public Tells withRows(Map<String, String> found) {
            return new Tells(who, purpose, to, said, found);
        }

        @Override
        public String heading() {
            return HEADING;
        }

        @Override
        public String what() {
            return Shown.line(to) + ": " + Shown.line(said.strip()) + digests(rows);
        }
    }

    /**
     * A connection to something that Kadrem did not start.
     *
     * @param to host and port, the path of a socket, or an address of a database
     * @param sent what is sent there, a call each; empty where the protocol alone says it
     */
    record Goes(String who, String purpose, String to, List<String> sent) implements Reach {
        private static final String HEADING = "connect to what it did not start itself";

        public Goes {
            sent = List.copyOf(sent);
        }

        @Override
        public String heading() {
            return HEADING;
        }

        @Override
        public String what() {
            var words = new StringBuilder(Shown.line(to));
            sent.forEach(call -> words.append("\n    ").append(Shown.line(call)));
            return words.toString();
        }
    }

    /** A secret of the user's that is sent. */
    record Reveals(String who, String purpose, String secret, String to) implements Reach {
        private static final String HEADING = "send secrets of yours";

        @Override
        public String heading() {
            return HEADING;
        }

        @Override
        public String what() {
            return Shown.line(secret) + " to " + Shown.line(to);
        }
    }

    /** A file or folder outside the study that is read. */
    record Reads(String who, String purpose, String file) implements Reach {
        private static final String HEADING = "read outside the study's folder";

        @Override
        public String heading() {
            return HEADING;
        }

        @Override
        public String what() {
            return Shown.word(file);
        }
    }
}
