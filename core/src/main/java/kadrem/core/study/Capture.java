package kadrem.core.study;

/**
 * A value read from a response and used in later calls of the same user as {@code {{name}}}. A call whose response does not
 * hold it fails.
 */
public record Capture(String name, Source source) {

    /** Where in a response the value stands. */
    public sealed interface Source {
        /** "JSON $.token". */
        String words();

        /** The first value that a JSONPath (RFC 9535) finds. */
        record Json(String path) implements Source {
            @Override
            public String words() {
                return "JSON " + path;
            }
        }

        /** The text that an XPath 1.0 finds. */
        record Xml(String path) implements Source {
            @Override
            public String words() {
                return "XML " + path;
            }
        }

        /** The first group of a regular expression in the body, or the whole match where it has none. */
        record Pattern(String regex) implements Source {
            @Override
            public String words() {
                return "pattern " + regex;
            }
        }

        record Header(String name) implements Source {
            @Override
            public String words() {
                return "header " + name;
            }
        }

        /** The value of a cookie that the response sets. */
        record Cookie(String name) implements Source {
            @Override
            public String words() {
                return "cookie " + name;
            }
        }
    }
}
