package kadrem.load.drive.http;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import io.netty.handler.codec.http.cookie.ClientCookieDecoder;
import io.netty.handler.codec.http.cookie.Cookie;
import kadrem.load.drive.CallValues;

/** What is kept of one user from call to call: the answer to a challenge, and cookies (RFC 6265). Confined. */
final class UserState {
    private Optional<DigestAnswer> digest = Optional.empty();
    private final Map<String, Cookie> cookies = new LinkedHashMap<>();

    /** The state of the user whose values these are, made at the first call. */
    static UserState of(CallValues values) {
        if (values.session() instanceof UserState known) {
            return known;
        }
        var made = new UserState();
        values.keepSession(made);
        return made;
    }

    Optional<DigestAnswer> digest() {
        return digest;
    }

    void keep(DigestAnswer answer) {
        digest = Optional.of(answer);
    }

    /** Takes the cookies that an answer sets; one that has expired is forgotten. */
    void take(List<String> setCookies) {
        for (String line : setCookies) {
            Cookie cookie = ClientCookieDecoder.LAX.decode(line);
            if (cookie != null) {
                String key = cookie.name() + "\n" + cookie.path();
                if (cookie.maxAge() != Cookie.UNDEFINED_MAX_AGE && cookie.maxAge() <= 0) {
                    cookies.remove(key);
                } else {
                    cookies.put(key, cookie);
                }
            }
        }
    }

    /** The value of the Cookie header for a target; empty where no cookie is for it. */
    String cookies(String target) {
        if (cookies.isEmpty()) {
            return "";
        }
        String path = target.split("\\?", 2)[0];
        var header = new StringBuilder();
        for (Cookie cookie : cookies.values()) {
            if (cookie.path() == null || isBelow(path, cookie.path())) {
                header.append(header.isEmpty() ? "" : "; ").append(cookie.name()).append('=').append(cookie.value());
            }
        }
        return header.toString();
    }

    /** RFC 6265, section 5.1.4. */
    private static boolean isBelow(String path, String cookiePath) {
        return path.equals(cookiePath) || path.startsWith(cookiePath)
                && (cookiePath.endsWith("/") || path.charAt(cookiePath.length()) == '/');
    }
}
