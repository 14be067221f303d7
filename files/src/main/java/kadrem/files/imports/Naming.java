package kadrem.files.imports;

import java.util.Locale;
import java.util.Set;
import java.util.regex.Pattern;

/** Names of what is made of calls that were found. */
public final class Naming {
    private static final Pattern ID = Pattern
            .compile("\\d+|[0-9a-fA-F]{8}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{12}|[0-9a-f]{16,}");
    private static final int LONGEST = 50;

    private Naming() {
    }

    /** Whether a part of a path tells things of one kind apart: a number, an identifier of RFC 9562, or a long hexadecimal number. */
    public static boolean isId(String segment) {
        return ID.matcher(segment).matches();
    }

    /** What a text leaves of a name. */
    public static String word(String text) {
        String word = text.replaceAll("[^A-Za-z0-9_-]+", "-").replaceAll("-{2,}", "-").replaceAll("^-|-$", "");
        return word.isEmpty() ? "call" : word.substring(0, Math.min(LONGEST, word.length()));
    }

    /** "get-berths" of a call of {@code GET /berths/{{berth}}?day=1}. */
    public static String ofCall(String method, String target) {
        return word(method.toLowerCase(Locale.ROOT) + "-"
                + target.replaceAll("\\{\\{.*?}}|\\?.*", "").replaceAll("/+", "-"));
    }

    /** A name that is not among those that are taken, to which it is added. */
    public static String unused(String stem, Set<String> taken) {
        String name = stem;
        for (int i = 2; !taken.add(name); i++) {
            name = stem + "-" + i;
        }
        return name;
    }
}
