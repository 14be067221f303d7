package kadrem.desk.examine;

import java.awt.Color;
import java.util.List;
import java.util.Map;

import kadrem.core.examine.Moved;
import kadrem.core.examine.Occurrence;
import kadrem.core.examine.RunView;
import kadrem.core.examine.Signature;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.RunRecord;
import kadrem.figures.RunLine;

/**
 * What the files of a run say under a selection.
 *
 * @param name letter of its candidate and number of its round
 * @param host columns of {@code host.csv}
 * @param moved its host series by how far the load moved them in the chosen time
 * @param occurrences what happened in it
 * @param signatures of the whole run, whatever is selected
 * @param calls its calls as the table has them
 */
record Examined(RunRecord run, String name, Color colour, RunView view, List<Exchange> exchanges,
        Map<String, double[]> host, WatchView watch, List<Moved> moved, List<Occurrence> occurrences,
        List<Signature> signatures,
        List<CallTable.Line> calls) {
    /** The same as the study judges it now. */
    Examined judged(RunRecord now) {
        return new Examined(now, name, colour, view, exchanges, host, watch, moved, occurrences, signatures,
                calls);
    }
    RunLine line() {
        return new RunLine(name, colour, view);
    }
}
