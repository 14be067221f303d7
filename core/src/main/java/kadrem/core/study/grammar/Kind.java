package kadrem.core.study.grammar;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** How a field is written, and what it may be. */
public sealed interface Kind {
    /** A pattern that a text must be of, and how to mend one that is not. */
    record Form(Pattern pattern, String mend) {
        public Form(String regex, String mend) {
            this(Pattern.compile(regex), mend);
        }

        public boolean accepts(String text) {
            return pattern.matcher(text).matches();
        }
    }

    /** One line. */
    record Text(Optional<Form> form) implements Kind {
    }

    /** Several lines of text, or of JSON, in which values are written as JSON wants them. */
    record Lines(boolean json) implements Kind {
    }

    /** A reference to a secret, never the secret. */
    record Secret() implements Kind {
    }

    /** true or false. */
    record Flag() implements Kind {
    }

    /** A whole number. */
    record Whole(long least, long most) implements Kind {
    }

    /** A number, from the least to the most; above a whole one where the least is the next number to it. */
    record Decimal(double least, double most) implements Kind {
    }

    /** A share, written 0.05 or 5%. */
    record Share(double least, double most) implements Kind {
    }

    /** A time, written 250ms, 5s, 2min or 1h. */
    record Time(Duration least, Duration most, boolean inWholeSeconds) implements Kind {
    }

    /** One of a few words, the usual one first. */
    record Choice(List<String> options) implements Kind {
        public Choice {
            options = List.copyOf(options);
        }
    }

    /**
     * A list of texts.
     *
     * @param orOne whether a single text may stand in the place of a list of one
     * @param needed whether there must be one at least
     */
    record Texts(boolean orOne, boolean needed, Optional<Form> form) implements Kind {
    }

    /** Names that are free, each with a text. */
    record Pairs() implements Kind {
    }

    /** A group of fields. */
    record One(Group group) implements Kind {
    }

    /** A list of groups. */
    record Many(Group group, boolean needed) implements Kind {
    }

    /** Names that are free, each with a group. */
    record Named(Group group) implements Kind {
    }

    /** A list of texts, or a group that says more. */
    record ListOr(Texts list, Group group) implements Kind {
    }

    /** The groups below the field, if there are any. */
    default Optional<Group> below() {
        return switch (this) {
            case One(Group group) -> Optional.of(group);
            case Many(Group group, boolean _) -> Optional.of(group);
            case Named(Group group) -> Optional.of(group);
            case ListOr(Texts _, Group group) -> Optional.of(group);
            default -> Optional.empty();
        };
    }

    /** What it may be, in words of tables and help. */
    default String words() {
        return switch (this) {
            case Text _ -> "a text";
            case Lines(boolean json) -> json ? "JSON" : "lines of text";
            case Secret() -> "a reference to a secret";
            case Flag() -> "true or false";
            case Whole(long least, long most) -> "a whole number" + (most < Integer.MAX_VALUE
                    ? " from " + least + " to " + most
                    : least > 0 ? " from " + least : "");
            case Decimal _ -> "a number";
            case Share _ -> "a share, such as 5%";
            case Time(Duration least, Duration most, boolean whole) -> "a time" + (whole ? " in whole seconds" : "")
                    + " from " + Durations.write(least) + " to " + Durations.write(most);
            case Choice(List<String> options) -> String.join(" or ", options);
            case Texts(boolean orOne, boolean _, Optional<Form> _) ->
                orOne ? "a text, or a list of texts" : "a list of texts";
            case Pairs() -> "names and texts";
            case One _ -> "a group";
            case Many _ -> "a list of groups";
            case Named _ -> "names and groups";
            case ListOr _ -> "a list, or a group";
        };
    }
}
