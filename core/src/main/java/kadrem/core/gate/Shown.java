package kadrem.core.gate;

import java.util.List;
import java.util.stream.Collectors;

/**
 * Texts from elsewhere as a terminal and a window may show them: nothing that moves the cursor, hides what follows or turns the
 * direction of writing. A character that is not to be seen stands as JSON writes it, so that a text of JSON stays the same value.
 */
public final class Shown {
    private static final String PLAIN_WORD = "[A-Za-z0-9_@%+=:,./{}-]+";
    /** What may follow a backslash that stands for itself, and would be taken for an escape. */
    private static final String ESCAPES = "untr\\";

    private Shown() {
    }

    /** The text on as many lines as it has. */
    public static String text(CharSequence text) {
        var shown = new StringBuilder(text.length());
        for (int i = 0; i < text.length(); i++) {
            char next = text.charAt(i);
            boolean endsLine = next == '\r' && i + 1 < text.length() && text.charAt(i + 1) == '\n';
            if (next == '\n' || next == '\t' || endsLine) {
                shown.append(next);
            } else {
                append(shown, text, i);
            }
        }
        return shown.toString();
    }

    /** The text on one line; two that differ are shown differently. */
    public static String line(String text) {
        var shown = new StringBuilder(text.length());
        for (int i = 0; i < text.length(); i++) {
            switch (text.charAt(i)) {
                case '\n' -> shown.append("\\n");
                case '\t' -> shown.append("\\t");
                case '\r' -> shown.append("\\r");
                case '\\' -> shown.append(i + 1 < text.length() && isTakenForAnEscape(text.codePointAt(i + 1))
                        ? "\\\\"
                        : "\\");
                default -> append(shown, text, i);
            }
        }
        return shown.toString();
    }

    /** Whether a backslash before it would be taken for the beginning of an escape, or for the end of one. */
    private static boolean isTakenForAnEscape(int next) {
        return ESCAPES.indexOf(next) >= 0 || isUnseen(next);
    }

    private static void append(StringBuilder shown, CharSequence text, int at) {
        char next = text.charAt(at);
        // a character of two halves is looked at once, and shown by halves
        int point = Character.isLowSurrogate(next) && at > 0
                ? Character.codePointAt(text, at - 1)
                : Character.codePointAt(text, at);
        if (isUnseen(point)) {
            shown.append(String.format(java.util.Locale.ROOT, "\\u%04x", (int) next));
        } else {
            shown.append(next);
        }
    }

    /** Whether a terminal would obey the character rather than show it, or show nothing of it. */
    private static boolean isUnseen(int point) {
        return switch (Character.getType(point)) {
            case Character.CONTROL, Character.FORMAT, Character.SURROGATE, Character.LINE_SEPARATOR,
                    Character.PARAGRAPH_SEPARATOR ->
                true;
            default -> false;
        };
    }

    /** A word as a shell would read it: in single quotes where it holds more than letters, digits and a few signs. */
    public static String word(String word) {
        if (word.matches(PLAIN_WORD)) {
            return word;
        }
        boolean unseen = word.codePoints().anyMatch(Shown::isUnseen);
        return unseen
                ? "$'" + escapedWord(word) + "'"
                : "'" + word.replace("'", "'\\''") + "'";
    }

    private static String escapedWord(String word) {
        var shown = new StringBuilder();
        for (int i = 0; i < word.length(); i++) {
            char next = word.charAt(i);
            if (next == '\\' || next == '\'') {
                shown.append('\\').append(next);
            } else if (next == '\n' || next == '\t' || next == '\r') {
                shown.append(line(Character.toString(next)));
            } else {
                append(shown, word, i);
            }
        }
        return shown.toString();
    }

    /** A command as one would type it. */
    public static String command(List<String> words) {
        return words.stream().map(Shown::word).collect(Collectors.joining(" "));
    }
}
