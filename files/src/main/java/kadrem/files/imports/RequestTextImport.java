package kadrem.files.imports;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import kadrem.core.study.Call;

/** Reads one request in the form of a message (RFC 9112, section 2.1): request line, headers, an empty line, the body. */
public final class RequestTextImport {
    private static final Pattern REQUEST_LINE = Pattern.compile("([A-Z]+)\\s+(\\S+)(?:\\s+HTTP/1\\.[01])?\\s*");
    private static final Pattern ABSOLUTE = Pattern.compile("(https?://[^/?#]+)([^#]*).*");

    private RequestTextImport() {
    }

    /** @throws ImportException if it is no request; the message names the line */
    public static Imported read(String text) throws ImportException {
        List<String> lines = text.stripLeading().lines().toList();
        Matcher first = REQUEST_LINE.matcher(lines.isEmpty() ? "" : lines.getFirst());
        if (!first.matches()) {
            throw new ImportException("Line 1 is no request line. Write it like this: GET /berths/7 HTTP/1.1");
        }
        String host = "";
        String target = first.group(2);
        Matcher absolute = ABSOLUTE.matcher(target);
        if (absolute.matches()) {
            host = absolute.group(1);
            target = absolute.group(2).startsWith("/") ? absolute.group(2) : "/" + absolute.group(2);
        }
        if (!target.startsWith("/")) {
            throw new ImportException("Line 1 names \"" + target + "\". Begin the address with a slash or http://");
        }
        var headers = new ArrayList<Call.Header>();
        int at = 1;
        for (; at < lines.size() && !lines.get(at).isBlank(); at++) {
            int colon = lines.get(at).indexOf(':');
            if (colon <= 0) {
                throw new ImportException("Line " + (at + 1) + " is no header. Write it like this: Accept: text/plain");
            }
            String name = lines.get(at).substring(0, colon).strip();
            String value = lines.get(at).substring(colon + 1).strip();
            if (name.equalsIgnoreCase("host") && host.isEmpty()) {
                host = value;
            }
            Imported.worthKeeping(name, value).ifPresent(headers::add);
        }
        String body = at < lines.size() ? String.join("\n", lines.subList(at + 1, lines.size())).strip() : "";
        var call = new FoundCall(first.group(1), host, target, headers, body, Optional.empty());
        return Imported.of("request", List.of(call), Map.of(), List.of());
    }
}
