package kadrem.load.drive;

import java.nio.charset.StandardCharsets;
import java.util.function.Function;

import com.fasterxml.jackson.core.io.JsonStringEncoder;
import kadrem.core.study.Body;
import org.apache.commons.text.StringEscapeUtils;

/**
 * Follows the template of a body from piece to piece, and tells how a value must be written at the place reached, so that
 * a quote or an ampersand in a value list does not break the body (RFC 8259, section 7; XML 1.0, section 2.4).
 */
final class BodyPlace {
    private static final String SECTION_START = "<![CDATA[";
    private static final String SECTION_END = "]]>";

    private final Body.Kind kind;
    private boolean inString;
    private boolean escaped;
    private boolean inSection;

    BodyPlace(Body.Kind kind) {
        this.kind = kind;
    }

    /** Goes on behind constant text of the template. */
    void pass(String text) {
        switch (kind) {
            case JSON, NDJSON -> text.chars().forEach(this::passJson);
            case XML -> {
                int start = text.lastIndexOf(SECTION_START);
                int end = text.lastIndexOf(SECTION_END);
                inSection = start > end || inSection && end < 0;
            }
            case TEXT -> {
                // every place is alike
            }
        }
    }

    private void passJson(int character) {
        if (escaped) {
            escaped = false;
        } else if (inString && character == '\\') {
            escaped = true;
        } else if (character == '"') {
            inString = !inString;
        }
    }

    /** How a value is written here. */
    Function<String, byte[]> encoding() {
        return switch (kind) {
            case JSON, NDJSON ->
                inString ? value -> JsonStringEncoder.getInstance().quoteAsUTF8(value) : BodyPlace::plain;
            case XML -> inSection ? BodyPlace::plain : value -> plain(StringEscapeUtils.escapeXml10(value));
            case TEXT -> BodyPlace::plain;
        };
    }

    private static byte[] plain(String value) {
        return value.getBytes(StandardCharsets.UTF_8);
    }
}
