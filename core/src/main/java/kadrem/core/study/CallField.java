package kadrem.core.study;

import java.util.List;

/**
 * One field of a call in a protocol, or of what a candidate says about it: how it is written in a study file and edited.
 *
 * @param words what it is, in a few words; stands beside the field
 * @param choices what a {@link Kind#CHOICE} may be, the usual one first
 * @param example stands in the empty field and in messages
 * @param offered whether a server can be asked what the field may be
 */
public record CallField(String name, Kind kind, String words, List<String> choices, String example, boolean required,
        boolean offered) {
    public CallField {
        choices = List.copyOf(choices);
    }

    /** How it is written. */
    public enum Kind {
        /** One line. */
        LINE,
        /** Several lines of text. */
        TEXT,
        /** Several lines of JSON, in which values are written as JSON wants them. */
        JSON,
        /** One of a few words. */
        CHOICE,
        /** A list of texts. */
        LIST,
        /** A reference to a secret, never the secret. */
        SECRET
    }

    public static CallField line(String name, String words, String example) {
        return new CallField(name, Kind.LINE, words, List.of(), example, false, false);
    }

    public static CallField text(String name, String words, String example) {
        return new CallField(name, Kind.TEXT, words, List.of(), example, false, false);
    }

    public static CallField json(String name, String words, String example) {
        return new CallField(name, Kind.JSON, words, List.of(), example, false, false);
    }

    public static CallField list(String name, String words, String example) {
        return new CallField(name, Kind.LIST, words, List.of(), example, false, false);
    }

    public static CallField secret(String name, String words, String example) {
        return new CallField(name, Kind.SECRET, words, List.of(), example, false, false);
    }

    /** @param choices the usual one first */
    public static CallField choice(String name, String words, String... choices) {
        return new CallField(name, Kind.CHOICE, words, List.of(choices), choices[0], false, false);
    }

    /** The same field, which must be there. */
    public CallField needed() {
        return new CallField(name, kind, words, choices, example, true, offered);
    }

    /** The same field, for which a server can be asked what it may be. */
    public CallField asked() {
        return new CallField(name, kind, words, choices, example, required, true);
    }
}
