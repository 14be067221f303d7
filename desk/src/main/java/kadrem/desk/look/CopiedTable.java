package kadrem.desk.look;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;

import javafx.scene.input.Clipboard;
import javafx.scene.input.ClipboardContent;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** Puts a table on the clipboard as CSV (RFC 4180) with a heading. */
public final class CopiedTable {
    private CopiedTable() {
    }

    public static void copy(List<String> heading, List<? extends List<?>> rows) {
        var text = new StringBuilder();
        try (var printer = new CSVPrinter(text, CSVFormat.RFC4180)) {
            printer.printRecord(heading);
            for (List<?> row : rows) {
                printer.printRecord(row);
            }
        } catch (IOException cause) {
            throw new UncheckedIOException(cause);
        }
        var content = new ClipboardContent();
        content.putString(text.toString());
        Clipboard.getSystemClipboard().setContent(content);
    }
}
