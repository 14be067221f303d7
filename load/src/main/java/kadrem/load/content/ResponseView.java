package kadrem.load.content;

import java.util.List;

/** A whole response, as a check sees it. Valid only while it is looked at. */
public interface ResponseView {
    /** Values of all headers of that name, in any case of letters, in order. */
    List<String> headers(String name);

    /** The body as received, without framing and before decoding. */
    byte[] body() throws UnreadableContent;

    /** The first header of that name; empty where there is none. */
    default String header(String name) {
        List<String> values = headers(name);
        return values.isEmpty() ? "" : values.getFirst();
    }
}
