package kadrem.core.study;

import java.util.List;
import java.util.Locale;

/** What a request carries. Texts are templates: {@code {{name}}} is replaced by a value. */
public sealed interface Body {
    Body NONE = new Text(Kind.TEXT, "");

    /** The value of the Content-Type header where the call gives none; empty for no body. */
    String contentType();

    /** Every template in it, for the search of placeholders. */
    List<String> templates();

    /** What a text is, by which it gets its content type. */
    enum Kind {
        TEXT("text/plain; charset=utf-8"), JSON("application/json"), XML("application/xml"),
        /** A JSON value a line, each ended by a newline, as bulk interfaces of stores want it. */
        NDJSON("application/x-ndjson");

        private final String contentType;

        Kind(String contentType) {
            this.contentType = contentType;
        }

        /** The word used in files. */
        public String id() {
            return name().toLowerCase(Locale.ROOT);
        }

        /** The kind that a text looks like. */
        public static Kind guess(String template) {
            String start = template.stripLeading();
            boolean json = start.startsWith("{") && !start.startsWith("{{") || start.startsWith("[");
            return json ? JSON : start.startsWith("<") ? XML : TEXT;
        }
    }

    /** A text; an empty one is no body. */
    record Text(Kind kind, String template) implements Body {
        @Override
        public String contentType() {
            return template.isEmpty() ? "" : kind.contentType;
        }

        @Override
        public List<String> templates() {
            return List.of(template);
        }
    }

    /** Fields in the form that HTML calls application/x-www-form-urlencoded. */
    record Form(List<Field> fields) implements Body {
        public Form {
            fields = List.copyOf(fields);
        }

        @Override
        public String contentType() {
            return "application/x-www-form-urlencoded";
        }

        @Override
        public List<String> templates() {
            return fields.stream().map(Field::value).toList();
        }
    }

    /** The bytes of a file of the study folder, as they are. */
    record FromFile(String file, String contentType, Bytes content) implements Body {
        @Override
        public List<String> templates() {
            return List.of();
        }
    }

    /** Several parts in one body (RFC 7578). */
    record Multipart(List<Part> parts) implements Body {
        /** Stands between the parts; the same each time, so that the same seed sends the same bytes. */
        public static final String BOUNDARY = "kadrem-part-7f3a91c2d8";

        public Multipart {
            parts = List.copyOf(parts);
        }

        @Override
        public String contentType() {
            return "multipart/form-data; boundary=" + BOUNDARY;
        }

        @Override
        public List<String> templates() {
            return parts.stream().flatMap(part -> part.content().templates().stream()).toList();
        }
    }

    /** A field of a form. */
    record Field(String name, String value) {
    }

    /** A part of a multipart body: a text or a file. */
    record Part(String name, Body content) {
    }
}
