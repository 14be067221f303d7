package kadrem.core.study;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

import kadrem.core.study.grammar.Field;

/**
 * What a call asks in a protocol other than HTTP: the same thing in another language. Texts are templates, as those of the call.
 *
 * @param protocol id of the protocol
 * @param fields texts by the name of their field; several only where the field is a list
 * @param expected what the answer must be, where that is not what the call says
 * @param captures what is captured, where that is not what the call says
 * @param answer which part of the answer is compared, where that is not what the call says
 */
public record Form(String protocol, Map<String, List<String>> fields, Optional<Expectations> expected,
        Optional<List<Capture>> captures, Optional<AnswerPart> answer) {
    public Form {
        fields = Map.copyOf(fields);
    }

    /** A form that expects and captures what the call does. */
    public static Form of(String protocol, Map<String, List<String>> fields) {
        return new Form(protocol, fields, Optional.empty(), Optional.empty(), Optional.empty());
    }

    /** The text of a field; empty where it is not there. */
    public String text(String field) {
        return String.join("\n", texts(field));
    }

    /** The texts of a list; empty where it is not there. */
    public List<String> texts(String field) {
        return fields.getOrDefault(field, List.of());
    }

    /** "sql select id from berth where id = {{berth}}": the protocol and what it asks first. */
    public String words() {
        String asked = Protocols.byId(protocol).stream().flatMap(one -> one.fields().stream())
                .filter(Field::required).findFirst().map(field -> text(field.name())).orElse("");
        return (protocol + " " + asked.strip().replaceAll("\\s+", " ")).strip();
    }

    /** Every template in it. */
    Stream<String> templates() {
        return fields.values().stream().flatMap(List::stream);
    }
}
