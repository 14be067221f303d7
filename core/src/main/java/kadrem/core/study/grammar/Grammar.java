package kadrem.core.study.grammar;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** All fields that a study file may have. */
public record Grammar(Group root) {
    /** The field at a path such as {@code load.stopWhen.for}. */
    public Field field(String path) {
        Group group = root;
        String[] names = path.split("\\.");
        for (int i = 0; i < names.length - 1; i++) {
            group = at(group, names[i]).kind().below()
                    .orElseThrow(() -> new IllegalArgumentException(path + " is no field"));
        }
        return at(group, names[names.length - 1]);
    }

    /** The group at a path; all of it where the path is empty. */
    public Group group(String path) {
        return path.isEmpty()
                ? root
                : field(path).kind().below().orElseThrow(() -> new IllegalArgumentException(path + " is no group"));
    }

    private static Field at(Group group, String name) {
        return Optional.ofNullable(group.all().get(name))
                .orElseThrow(() -> new IllegalArgumentException(name + " is no field"));
    }

    /** The same with a field more in the group at a path. */
    public Grammar with(String path, Field field) {
        return new Grammar(with(root, path.isEmpty() ? List.of() : List.of(path.split("\\.")), field));
    }

    private static Group with(Group group, List<String> path, Field added) {
        if (path.isEmpty()) {
            return group.with(added);
        }
        List<Field> fields = replaced(group.fields(), path, added);
        List<List<Field>> ways = new ArrayList<>();
        group.ways().forEach(way -> ways.add(replaced(way, path, added)));
        return new Group(group.words(), fields, ways, group.needsWay());
    }

    private static List<Field> replaced(List<Field> fields, List<String> path, Field added) {
        return fields.stream().map(field -> field.name().equals(path.getFirst())
                ? field.of(below(field.kind(), path.subList(1, path.size()), added))
                : field).toList();
    }

    private static Kind below(Kind kind, List<String> path, Field added) {
        return switch (kind) {
            case Kind.One(Group group) -> new Kind.One(with(group, path, added));
            case Kind.Many(Group group, boolean needed) -> new Kind.Many(with(group, path, added), needed);
            case Kind.Named(Group group) -> new Kind.Named(with(group, path, added));
            case Kind.ListOr(Kind.Texts list, Group group) -> new Kind.ListOr(list, with(group, path, added));
            default -> kind;
        };
    }
}
