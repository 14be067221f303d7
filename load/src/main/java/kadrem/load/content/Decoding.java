package kadrem.load.content;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.PushbackInputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.zip.GZIPInputStream;
import java.util.zip.Inflater;
import java.util.zip.InflaterInputStream;

import com.github.luben.zstd.ZstdInputStream;
import org.brotli.dec.BrotliInputStream;

/** Undoes the content codings of RFC 9110, section 8.4: gzip, deflate, br (RFC 7932) and zstd (RFC 8878). */
public final class Decoding {
    /** A small body may unfold to a huge one; no more than this is unfolded. */
    public static final int MAX_BYTES = 64 * 1024 * 1024;

    private Decoding() {
    }

    /**
     * The body as it was before coding.
     *
     * @param contentEncoding value of the Content-Encoding header, possibly empty or a list
     * @throws UnreadableContent if it is not coded as it says, in a way unknown here, or too large
     */
    public static byte[] decode(byte[] body, String contentEncoding) throws UnreadableContent {
        byte[] decoded = body;
        for (String coding : codings(contentEncoding).reversed()) {
            decoded = undo(decoded, coding);
        }
        return decoded;
    }

    private static List<String> codings(String contentEncoding) {
        var codings = new ArrayList<String>();
        for (String coding : contentEncoding.toLowerCase(Locale.ROOT).split(",")) {
            if (!coding.isBlank() && !coding.strip().equals("identity")) {
                codings.add(coding.strip());
            }
        }
        return codings;
    }

    private static byte[] undo(byte[] body, String coding) throws UnreadableContent {
        if (body.length == 0) {
            return body;
        }
        try (InputStream in = open(new ByteArrayInputStream(body), coding)) {
            byte[] decoded = in.readNBytes(MAX_BYTES + 1);
            if (decoded.length > MAX_BYTES) {
                throw new UnreadableContent("the body unfolds to more than " + MAX_BYTES / 1024 / 1024 + " MiB");
            }
            return decoded;
        } catch (IOException cause) {
            throw new UnreadableContent("the body is not " + coding + ", as its Content-Encoding says: "
                    + cause.getMessage());
        }
    }

    private static InputStream open(InputStream in, String coding) throws IOException, UnreadableContent {
        return switch (coding) {
            case "gzip", "x-gzip" -> new GZIPInputStream(in);
            case "deflate" -> deflate(in);
            case "br" -> new BrotliInputStream(in);
            case "zstd" -> new ZstdInputStream(in);
            default -> throw new UnreadableContent("the Content-Encoding " + coding + " is not known");
        };
    }

    /** RFC 9110 means the zlib format; some servers send the bare one. The first byte tells: 8 in its low half is zlib's. */
    private static InputStream deflate(InputStream in) throws IOException {
        var pushback = new PushbackInputStream(in);
        int first = pushback.read();
        pushback.unread(first);
        return new InflaterInputStream(pushback, new Inflater((first & 0x0f) != 8));
    }
}
