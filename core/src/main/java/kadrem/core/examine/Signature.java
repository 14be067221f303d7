package kadrem.core.examine;

import java.util.Arrays;
import java.util.Optional;

/**
 * A pattern in a record that practitioners know, with its reason. It is a hint and never takes a run out of a comparison.
 *
 * @param found what was found, a sentence with its figures
 */
public record Signature(Kind kind, String found) {

    /** What is known. The reasons are common practice where no source is named. */
    public enum Kind {
        /** A small answer comes in parts, some 40 ms apart. */
        IN_PIECES("answers-in-pieces",
                "Most often the answer is written in two parts, and the second waits until the first was acknowledged "
                        + "(Nagle's algorithm, RFC 896), which the receiving system puts off (delayed acknowledgement, "
                        + "RFC 1122, section 4.2.3.2)",
                "have the candidate write each answer at once, or switch TCP_NODELAY on for its connections"),
        /** Connections are not kept. */
        CONNECTION_PER_CALL("connection-per-call",
                "Kept connections are asked for, but the candidate, or something before it, closes them after "
                        + "an answer (RFC 9112, section 9.6), so that each call pays for a new one",
                "look for HTTP/1.0, for Connection: close in its answers, and for its limit of requests on a "
                        + "connection"),
        /** Large bodies wait for a second. */
        WAITS_FOR_CONTINUE("waits-for-continue",
                "Something on the way sends the head with Expect: 100-continue and waits for leave to send "
                        + "the body, which does not come (RFC 9110, section 10.1.1); many clients give up waiting after "
                        + "a second",
                "have what stands behind the candidate answer the expectation, or switch it off in the client "
                        + "that asks there"),
        /** Each TLS handshake is a full one. */
        NEVER_RESUMED("handshakes-never-resumed",
                "Each connection pays for a full handshake with certificates, although Kadrem offers to "
                        + "resume the session of an earlier one (RFC 8446, section 2.2)",
                "give the candidate session tickets or a session cache that outlive a connection, and that "
                        + "all its processes share"),
        /** One answer for all questions. */
        ALL_EQUAL("answers-all-equal",
                "What answers does not look at what was asked for: a cache whose key leaves the values out, a "
                        + "fallback, or a page for everybody",
                "compare two answers by Try, and expect something of the answer that depends on the value"),
        /** Less is answered under load. */
        SHRINKING("answers-shrink",
                "Under load something is left out, so that the candidate is measured with less work than it "
                        + "was asked for",
                "expect what must be in the answer, such as the number of items, so that less than that "
                        + "counts as an error"),
        /** Times that gather at a number of seconds. */
        ROUND_TIMEOUT("round-timeout",
                "Times that gather at a round number are a limit that somebody has set, and no work: of a "
                        + "pool, a lock, the look-up of a name, or a call to something else",
                "look for a setting of that length and for what it waits for"),
        /** All wait, again and again, at equal distances. */
        PAUSES("pauses-by-the-clock",
                "What comes back by the clock is a task and not the load: a collection, a flush, a "
                        + "checkpoint, a job",
                "look at the hosts' figures of these seconds, and at what the candidate does by a timer"),
        /** The others carry next to nothing. */
        ONE_CONNECTION("one-connection",
                "What spreads connections over instances, as most balancers do, has then sent almost all to "
                        + "one of them, and the limits of one connection are the limits of all calls",
                "have fewer calls share a connection (wire: depth), or more connections in the load"),
        /** More connections are wanted than are served. */
        ERRORS_FROM_CONNECTIONS("errors-from-connections",
                "The candidate, or something before it, has a limit of connections: of threads, of open "
                        + "files, or of those that wait to be taken",
                "look for that limit, or have calls share connections");

        private final String id;
        private final String reason;
        private final String advice;

        Kind(String id, String reason, String advice) {
            this.id = id;
            this.reason = reason;
            this.advice = advice;
        }

        public String id() {
            return id;
        }

        /** Why it comes about; a sentence without its end. */
        public String reason() {
            return reason;
        }

        /** What to try. */
        public String advice() {
            return advice;
        }

        public static Optional<Kind> byId(String id) {
            return Arrays.stream(values()).filter(one -> one.id.equals(id)).findFirst();
        }
    }

    /** All of it in one text. */
    public String words() {
        return found + ". " + kind.reason() + ". To try: " + kind.advice() + ".";
    }
}
