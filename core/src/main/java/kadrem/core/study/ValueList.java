package kadrem.core.study;

import java.util.List;

/** Rows that vary what calls send; a visit draws one row and keeps it for all of its calls. */
public sealed interface ValueList {

    /** The name between the double braces of a placeholder. */
    String name();

    /** Number of rows, at least 1. */
    long size();

    /** The text of row {@code row}, counted from 0. */
    String text(long row);

    /** Whole numbers {@code from} to {@code to}, both included. */
    record NumberRange(String name, long from, long to) implements ValueList {
        @Override
        public long size() {
            return to - from + 1;
        }

        @Override
        public String text(long row) {
            return Long.toString(from + row);
        }
    }

    /** The values of one column of a CSV file of the study folder. */
    record Listed(String name, String file, String column, List<String> rows) implements ValueList {
        public Listed {
            rows = List.copyOf(rows);
        }

        @Override
        public long size() {
            return rows.size();
        }

        @Override
        public String text(long row) {
            return rows.get(Math.toIntExact(row));
        }
    }
}
