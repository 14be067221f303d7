package kadrem.desk.workload;

import java.util.ArrayList;
import java.util.List;

import javafx.scene.Node;
import kadrem.desk.look.RowsEditor;

/** The rows of a call that have a name and a value and may be of several kinds: headers, expectations, captures, parts. */
final class PartRows {
    private static final double KIND_WIDTH = 122;
    private static final double NAME_WIDTH = 120;

    private final boolean withKinds;
    private final RowsEditor editor;

    /** @param kind one of the kinds; empty where there are none */
    record Row(String kind, String name, String value) {
    }

    /**
     * @param kinds kinds of row; empty where all are of one
     * @param changed told when the rows were changed by hand and are complete
     */
    PartRows(String title, String id, List<String> kinds, String namePrompt, String valuePrompt, Runnable changed) {
        withKinds = !kinds.isEmpty();
        var columns = new ArrayList<RowsEditor.Column>();
        if (withKinds) {
            columns.add(new RowsEditor.Column("kind", KIND_WIDTH, kinds));
        }
        columns.add(RowsEditor.Column.text(namePrompt, NAME_WIDTH));
        columns.add(RowsEditor.Column.text(valuePrompt, 0));
        editor = new RowsEditor(title, id, columns, changed);
    }

    Node view() {
        return editor.view();
    }

    /** Takes away rows that have no text yet. */
    void dropUnfinished() {
        editor.dropUnfinished();
    }

    void show(List<Row> rows) {
        editor.show(rows.stream().map(row -> withKinds
                ? List.of(row.kind(), row.name(), row.value())
                : List.of(row.name(), row.value())).toList());
    }

    List<Row> rows() {
        return editor.rows().stream().map(cells -> withKinds
                ? new Row(cells.get(0), cells.get(1).strip(), cells.get(2))
                : new Row("", cells.get(0).strip(), cells.get(1))).toList();
    }
}
