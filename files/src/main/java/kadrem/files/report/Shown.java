package kadrem.files.report;

import java.util.Locale;

/**
 * Text from elsewhere, made harmless for a reader. Marks that turn the direction of writing, and other characters that cannot be
 * seen, are written as their code, so that a text reads as it is. Escaping for a format is left to what writes the format. Source
 * of the danger: Boucher, Anderson: Trojan Source, 2021.
 */
final class Shown {
    private static final int MAX = 2_000;

    private Shown() {
    }

    /** The text with every unseen character as its code, such as "⟨U+202E⟩", and cut off where it is very long. */
    static String text(String text) {
        var shown = new StringBuilder();
        text.codePoints().limit(MAX).forEach(point -> {
            if (point == '\n' || point == '\t') {
                shown.append((char) point);
            } else if (isUnseen(point)) {
                shown.append(String.format(Locale.ROOT, "⟨U+%04X⟩", point));
            } else {
                shown.appendCodePoint(point);
            }
        });
        return text.codePointCount(0, text.length()) > MAX ? shown.append(" …").toString() : shown.toString();
    }

    private static boolean isUnseen(int point) {
        return switch (Character.getType(point)) {
            case Character.CONTROL, Character.FORMAT, Character.SURROGATE, Character.PRIVATE_USE,
                    Character.LINE_SEPARATOR, Character.PARAGRAPH_SEPARATOR, Character.UNASSIGNED ->
                true;
            default -> false;
        };
    }
}
