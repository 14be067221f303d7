package kadrem.core.study;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * What a response must be for the call to count as good.
 *
 * @param within longest response time
 * @param content what head and body must hold
 */
public record Expectations(StatusSet status, Optional<Duration> within, List<Expectation> content) {
    public static final Expectations ANY_SUCCESS = of(StatusSet.ANY_SUCCESS);

    public Expectations {
        content = List.copyOf(content);
    }

    public static Expectations of(StatusSet status) {
        return new Expectations(status, Optional.empty(), List.of());
    }

    /** One thing that a response must hold. */
    public sealed interface Expectation {
        /** "$.free is 12": a clause that is true of a response that meets it. */
        String words();

        /** A header is there and its value holds a text, in any case of letters; an empty text is held by any value. */
        record HeaderHolds(String name, String text) implements Expectation {
            @Override
            public String words() {
                return text.isEmpty() ? "header " + name + " is there" : "header " + name + " holds " + text;
            }
        }

        record BodyHolds(String text) implements Expectation {
            @Override
            public String words() {
                return "body holds " + text;
            }
        }

        /** The regular expression is found in the body. */
        record BodyMatches(String pattern) implements Expectation {
            @Override
            public String words() {
                return "body matches " + pattern;
            }
        }

        /**
         * A JSONPath finds a value.
         *
         * @param equalTo the value's text; empty where any will do
         */
        record JsonValue(String path, Optional<String> equalTo) implements Expectation {
            @Override
            public String words() {
                return path + equalTo.map(text -> " is " + text).orElse(" is there");
            }
        }

        /** A JSONPath (RFC 9535) finds nothing. */
        record NoJsonValue(String path) implements Expectation {
            @Override
            public String words() {
                return "nothing at " + path;
            }
        }

        /** An XPath 1.0 finds a value; otherwise as {@link JsonValue}. */
        record XmlValue(String path, Optional<String> equalTo) implements Expectation {
            @Override
            public String words() {
                return path + equalTo.map(text -> " is " + text).orElse(" is there");
            }
        }

        /** The body is JSON that a JSON Schema (2020-12) accepts. */
        record JsonSchema(String file, String schema) implements Expectation {
            @Override
            public String words() {
                return "body follows " + file;
            }
        }

        /** Size of the decoded body in bytes. */
        record Size(long least, long most) implements Expectation {
            @Override
            public String words() {
                return most == Long.MAX_VALUE
                        ? "body has at least " + least + " bytes"
                        : "body has " + least + " to " + most + " bytes";
            }
        }

        /** The SHA-256 of the decoded body begins with these hexadecimal digits, such as a rehearsal showed them. */
        record Hash(String sha256) implements Expectation {
            @Override
            public String words() {
                return "body has the hash " + sha256;
            }
        }
    }
}
