package kadrem.files.study;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Grammar;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;

/** The grammar of study files as tables of the documentation. */
public final class StudyFieldTables {
    /** A group and where it stands. */
    private record Place(String path, Group group) {
    }

    private StudyFieldTables() {
    }

    /** Markdown: a heading and a table for each group; a group that several fields have stands once. */
    public static String of(Grammar measured, Grammar ofFigures) {
        var text = new StringBuilder();
        Set<String> written = new HashSet<>();
        text.append("# Fields of study.yaml\n\nWritten by the build from the grammar that also reads the file ")
                .append("(`StudyGrammar`). `[]` stands for each item of a list, `*` for a name that is free.\n");
        write(new Place("", measured.root()), text, written);
        text.append("\n# Fields of a study of figures that were measured elsewhere\n");
        write(new Place("", ofFigures.root()), text, written);
        return text.toString();
    }

    private static void write(Place root, StringBuilder text, Set<String> written) {
        Deque<Place> places = new ArrayDeque<>(List.of(root));
        while (!places.isEmpty()) {
            Place place = places.removeFirst();
            if (!written.add(place.group().words()) && !place.path().isEmpty()) {
                continue;
            }
            table(place, text);
            // what a group holds follows on it
            place.group().all().values().stream().toList().reversed().forEach(field -> field.kind().below()
                    .ifPresent(below -> places.addFirst(new Place(path(place, field), below))));
        }
    }

    private static String path(Place place, Field field) {
        String path = place.path().isEmpty() ? field.name() : place.path() + "." + field.name();
        return switch (field.kind()) {
            case Kind.Many _ -> path + "[]";
            case Kind.Named _ -> path + ".*";
            default -> path;
        };
    }

    private static void table(Place place, StringBuilder text) {
        text.append("\n## ").append(place.path().isEmpty() ? "The file" : "`" + place.path() + "`").append('\n');
        text.append(sentence(place.group().words())).append('\n');
        if (!place.group().ways().isEmpty()) {
            text.append(place.group().needsWay() ? "It takes one of the ways " : "It may take one of the ways ")
                    .append(String.join(", ", place.group().markers().stream().map(one -> "`" + one + "`").toList()))
                    .append(".\n");
        }
        text.append("\n| field | is | if left out | what |\n|---|---|---|---|\n");
        place.group().all().values().forEach(field -> row(field, text));
    }

    private static String sentence(String words) {
        return words.substring(0, 1).toUpperCase(java.util.Locale.ROOT) + words.substring(1) + ".";
    }

    private static void row(Field field, StringBuilder text) {
        text.append("| `").append(field.name()).append("` | ").append(field.kind().words()).append(" | ")
                .append(field.required()
                        ? "must be there"
                        : field.usual().map(usual -> "`" + usual + "`")
                                .or(field::otherwise).orElse(""))
                .append(" | ").append(field.words())
                .append(field.kind().below().isPresent() || !field.options().isEmpty()
                        ? ""
                        : ", such as `" + field.example().replace("|", "\\|") + "`")
                .append(field.where()).append(" |\n");
    }
}
