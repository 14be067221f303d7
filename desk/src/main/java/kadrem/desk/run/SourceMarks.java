package kadrem.desk.run;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.WatchedSource;

/** The sources of a host watch, each as a mark that is full while it tells something and grey, with the reason, while not. */
public final class SourceMarks {
    private static final int MAX_LETTERS = 60;

    private SourceMarks() {
    }

    /** @param run what is written before each name, or nothing */
    public static List<Node> of(String run, WatchView watch) {
        var marks = new ArrayList<Node>();
        for (String source : watch.sources()) {
            Optional<WatchedSource.Trouble> silent = watch.silence(source);
            String name = (run + " " + source).strip();
            String reason = silent
                    .map(one -> String.format(Locale.ROOT, "silent since %.0f s: %s", one.at(), one.reason()))
                    .orElse("");
            var mark = new Label(silent.isPresent()
                    ? "○ " + name + " " + shortened(reason)
                    : "● " + name);
            mark.getStyleClass().addAll("source-mark", silent.isPresent() ? "silent" : "telling");
            mark.setAccessibleText(name + (silent.isPresent() ? " " + reason : " tells its figures"));
            if (silent.isPresent()) {
                mark.setTooltip(new Tooltip(reason));
            }
            marks.add(mark);
        }
        return marks;
    }

    private static String shortened(String reason) {
        return reason.length() <= MAX_LETTERS ? reason : reason.substring(0, MAX_LETTERS - 1).strip() + "…";
    }
}
