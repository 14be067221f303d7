package kadrem.desk.form;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Group;
import kadrem.desk.Session;
import kadrem.files.study.Edit;

/** The fields of a group of the study file that are written in one line: an editor for each, saved when it is left. */
public final class LineFields {
    private final Session session;
    private final String grammarPath;
    private final String id;
    private final Set<String> elsewhere;
    private final Consumer<String> rejected;
    private final Map<String, FieldEditor> editors = new LinkedHashMap<>();
    private Optional<Group> group = Optional.empty();
    private String place = "";

    /**
     * @param grammarPath of the group in the grammar, such as {@code workload.visits}
     * @param id begins the ids of the editors
     * @param rejected told why an edit was not taken; an empty text before each
     * @param elsewhere fields that have an editor of another kind
     */
    public LineFields(Session session, String grammarPath, String id, Consumer<String> rejected,
            String... elsewhere) {
        this.session = session;
        this.grammarPath = grammarPath;
        this.id = id;
        this.rejected = rejected;
        this.elsewhere = Set.of(elsewhere);
    }

    /** The editors by the names of their fields, in the order of the grammar. */
    public Map<String, FieldEditor> editors(Session.State state) {
        if (group.isEmpty()) {
            Group found = state.file().grammar().group(grammarPath);
            group = Optional.of(found);
            found.all().values().stream().filter(Field::isLine).filter(field -> !elsewhere.contains(field.name()))
                    .forEach(field -> {
                        var editor = new FieldEditor(field, id + "-" + field.name());
                        editor.onChange(value -> put(found, field, value));
                        editors.put(field.name(), editor);
                    });
        }
        return editors;
    }

    /** Those that mean something beside what the file says otherwise. */
    public List<FieldEditor> meant(Session.State state) {
        return editors(state).values().stream().filter(one -> group.orElseThrow().applies(one.field(),
                name -> state.file().written(place + "." + name).map(Object::toString))).toList();
    }

    /** Says in an empty field what holds where it is left out. */
    public void usually(String field, String words) {
        Optional.ofNullable(editors.get(field)).ifPresent(editor -> editor.usually(words));
    }

    /**
     * Shows what the file says of the group.
     *
     * @param where the group stands in the file, such as {@code workload.visits[1]}
     */
    public void show(Session.State state, String where) {
        boolean isOther = !where.equals(place);
        place = where;
        editors(state).forEach((name, editor) -> editor.show(state.file().written(where + "." + name), isOther));
    }

    private void put(Group in, Field field, Optional<Object> value) {
        var changes = new LinkedHashMap<String, Optional<Object>>();
        if (value.isPresent() && in.markers().contains(field.name())) {
            // one way is taken in the place of another
            in.ways().stream().flatMap(List::stream).map(Field::name)
                    .filter(name -> !name.equals(field.name()))
                    .forEach(name -> changes.put(name, Optional.empty()));
        }
        changes.put(field.name(), value);
        rejected.accept("");
        session.edit(List.of(new Edit.Put(place, changes)),
                why -> rejected.accept(why + " The study keeps its last good state."));
    }
}
