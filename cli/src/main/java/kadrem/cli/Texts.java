package kadrem.cli;

import java.util.List;

/** Small pieces of terminal text. */
final class Texts {
    private Texts() {
    }

    /** Rows in columns as wide as their widest cell; the first row is the heading. {@code right} names numeric columns. */
    static String table(List<List<String>> rows, List<Boolean> right) {
        int columns = rows.getFirst().size();
        var widths = new int[columns];
        for (List<String> row : rows) {
            for (int i = 0; i < columns; i++) {
                widths[i] = Math.max(widths[i], row.get(i).codePointCount(0, row.get(i).length()));
            }
        }
        var text = new StringBuilder();
        for (int r = 0; r < rows.size(); r++) {
            var line = new StringBuilder();
            for (int i = 0; i < columns; i++) {
                String cell = rows.get(r).get(i);
                String pad = " ".repeat(widths[i] - cell.codePointCount(0, cell.length()));
                line.append(i == 0 ? "" : "  ").append(right.get(i) ? pad + cell : cell + pad);
            }
            text.append(line.toString().stripTrailing()).append('\n');
            if (r == 0) {
                int total = java.util.Arrays.stream(widths).sum() + 2 * (columns - 1);
                text.append("-".repeat(total)).append('\n');
            }
        }
        return text.toString();
    }
}
