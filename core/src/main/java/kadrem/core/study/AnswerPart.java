package kadrem.core.study;

import java.util.Map;

/**
 * Which part of an answer says what was asked for, and what its members are called elsewhere: by it, answers in several
 * languages can be set against each other.
 *
 * @param at JSONPath of the part; "$" for all of it
 * @param names from the name of a member here to the name it is compared under; an empty one leaves the member out
 */
public record AnswerPart(String at, Map<String, String> names) {
    public static final AnswerPart WHOLE = new AnswerPart("$", Map.of());

    public AnswerPart {
        names = Map.copyOf(names);
    }
}
