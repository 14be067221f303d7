package kadrem.desk.examine;

import java.awt.Color;
import java.util.List;
import java.util.Map;

import kadrem.core.examine.RunView;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.RunRecord;
import kadrem.desk.chart.RunLine;

/**
 * What the files of a run say under a selection.
 *
 * @param name letter of its candidate and number of its round
 * @param host columns of {@code host.csv}
 */
record Examined(RunRecord run, String name, Color colour, RunView view, List<Exchange> exchanges,
        Map<String, double[]> host, WatchView watch) {
    RunLine line() {
        return new RunLine(name, colour, view);
    }
}
