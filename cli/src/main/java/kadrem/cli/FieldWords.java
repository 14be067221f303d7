package kadrem.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.ListResourceBundle;

import kadrem.core.check.StudyGrammar;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Group;

/** What the help says of options that are fields of the study file, by the paths of the fields. */
public final class FieldWords extends ListResourceBundle {
    @Override
    protected Object[][] getContents() {
        var words = new ArrayList<Object[]>();
        collect("", StudyGrammar.measured(List.of()).root(), words);
        return words.toArray(Object[][]::new);
    }

    private static void collect(String path, Group group, List<Object[]> words) {
        for (Field field : group.all().values()) {
            String at = path + field.name();
            words.add(new Object[]{at, field.description() + "; " + field.kind().words()});
            field.kind().below().ifPresent(below -> collect(at + ".", below, words));
        }
    }
}
