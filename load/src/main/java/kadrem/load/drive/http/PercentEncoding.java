package kadrem.load.drive.http;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;

/** Percent-encoding of a value that becomes part of a path or query: all but the unreserved of RFC 3986, section 2.3. */
public final class PercentEncoding {
    private static final String UNRESERVED = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-._~";
    private static final String HEX = "0123456789ABCDEF";

    private PercentEncoding() {
    }

    /** {@code value} in UTF-8, with all but the unreserved characters encoded. */
    public static byte[] encode(String value) {
        var out = new ByteArrayOutputStream();
        for (byte b : value.getBytes(StandardCharsets.UTF_8)) {
            if (UNRESERVED.indexOf(b) >= 0) {
                out.write(b);
            } else {
                out.write('%');
                out.write(HEX.charAt(b >> 4 & 0xf));
                out.write(HEX.charAt(b & 0xf));
            }
        }
        return out.toByteArray();
    }
}
