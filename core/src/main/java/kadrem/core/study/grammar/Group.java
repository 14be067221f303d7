package kadrem.core.study.grammar;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * Fields that stand together.
 *
 * @param words what the group is, in a few words
 * @param fields those that it may have whatever else it says
 * @param ways ways to say the rest, of which one is taken; each is known by its first field
 * @param needsWay whether one of the ways must be taken
 */
public record Group(String words, List<Field> fields, List<List<Field>> ways, boolean needsWay) {
    public Group {
        fields = List.copyOf(fields);
        ways = ways.stream().map(List::copyOf).toList();
    }

    public static Group of(String words, Field... fields) {
        return new Group(words, List.of(fields), List.of(), false);
    }

    /** The same with another way to say the rest. */
    public Group way(Field first, Field... others) {
        var way = new ArrayList<>(List.of(first));
        way.addAll(List.of(others));
        var all = new ArrayList<>(ways);
        all.add(way);
        return new Group(words, fields, all, needsWay);
    }

    /** The same, which must take one of its ways. */
    public Group needed() {
        return new Group(words, fields, ways, true);
    }

    /** The same with a field more. */
    public Group with(Field field) {
        var more = new ArrayList<>(fields);
        more.add(field);
        return new Group(words, more, ways, needsWay);
    }

    /** The fields by which the ways are known. */
    public List<String> markers() {
        return ways.stream().map(way -> way.getFirst().name()).toList();
    }

    /** All fields, those of the ways last; a name that several ways have stands once. */
    public Map<String, Field> all() {
        Map<String, Field> all = new LinkedHashMap<>();
        fields.forEach(field -> all.put(field.name(), field));
        ways.forEach(way -> way.forEach(field -> all.putIfAbsent(field.name(), field)));
        return all;
    }

    /** All fields by their names, those of the way that is taken before others of their name. */
    public Map<String, Field> taking(Optional<String> marker) {
        Map<String, Field> fields = all();
        ways.stream().filter(way -> marker.filter(way.getFirst().name()::equals).isPresent())
                .forEach(way -> way.forEach(field -> fields.put(field.name(), field)));
        return fields;
    }

    /** Whether a field means something beside what the others say. */
    public boolean applies(Field field, Function<String, Optional<String>> says) {
        return field.conditions().stream().allMatch(condition -> {
            Optional<String> said = says.apply(condition.field());
            return condition.says().isEmpty()
                    ? said.isEmpty()
                    : said.or(() -> Optional.ofNullable(all().get(condition.field())).flatMap(Field::usual))
                            .filter(condition.says()::contains).isPresent();
        });
    }
}
