package kadrem.load.content;

import java.io.IOException;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.util.HexFormat;
import java.util.Locale;

import javax.xml.transform.OutputKeys;
import javax.xml.transform.TransformerException;
import javax.xml.transform.TransformerFactory;
import javax.xml.transform.dom.DOMSource;
import javax.xml.transform.stream.StreamResult;

import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;

/** A body as people read it. */
public final class Pretty {
    private static final ObjectMapper JSON = new ObjectMapper()
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS);
    private static final int BYTES_A_LINE = 16;
    private static final int MAX_HEX_LINES = 512;

    private Pretty() {
    }

    /** JSON and XML indented, other text as it is, what is no text as hexadecimal digits. */
    public static String print(byte[] body, String contentType) {
        String type = contentType.toLowerCase(Locale.ROOT);
        String text = new String(body, StandardCharsets.UTF_8);
        if (type.contains("json")) {
            try {
                return JSON.writerWithDefaultPrettyPrinter().writeValueAsString(JSON.readTree(body));
            } catch (IOException _) {
                return text;
            }
        }
        if (type.contains("xml")) {
            try {
                return xml(body);
            } catch (UnreadableContent | TransformerException _) {
                return text;
            }
        }
        return text.indexOf('\uFFFD') < 0 ? text : hex(body);
    }

    private static String xml(byte[] body) throws UnreadableContent, TransformerException {
        var transformer = TransformerFactory.newDefaultInstance().newTransformer();
        transformer.setOutputProperty(OutputKeys.INDENT, "yes");
        transformer.setOutputProperty(OutputKeys.OMIT_XML_DECLARATION, "yes");
        var out = new StringWriter();
        transformer.transform(new DOMSource(XmlQuery.document(body)), new StreamResult(out));
        return out.toString();
    }

    /** Offset, sixteen bytes and what of them can be read, a line each. */
    private static String hex(byte[] body) {
        var text = new StringBuilder();
        HexFormat format = HexFormat.ofDelimiter(" ");
        for (int at = 0; at < body.length && at < BYTES_A_LINE * MAX_HEX_LINES; at += BYTES_A_LINE) {
            int end = Math.min(body.length, at + BYTES_A_LINE);
            text.append(String.format(Locale.ROOT, "%06x  %-47s  ", at, format.formatHex(body, at, end)));
            for (int i = at; i < end; i++) {
                text.append(body[i] >= ' ' && body[i] <= '~' ? (char) body[i] : '·');
            }
            text.append('\n');
        }
        return text.toString();
    }
}
