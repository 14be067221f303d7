package kadrem.files.report;

import kadrem.figures.Mark;
import org.jfree.chart.JFreeChart;
import org.jsoup.nodes.Element;

/** Puts figures and markers into a page, as its medium can show them. */
interface Drawer {
    int WIDTH = 560;
    int HEIGHT = 320;

    /** @param title what the figure shows, for those who do not see it */
    Element figure(JFreeChart chart, String title);

    Element mark(Mark mark);
}
