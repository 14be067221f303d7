package kadrem.files.report;

import java.awt.Color;
import java.awt.Graphics2D;
import java.awt.geom.AffineTransform;
import java.awt.geom.Rectangle2D;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

import com.openhtmltopdf.extend.FSObjectDrawer;
import com.openhtmltopdf.render.DefaultObjectDrawerFactory;
import kadrem.figures.Mark;
import org.jfree.chart.JFreeChart;
import org.jsoup.nodes.Element;

/** Figures and markers of a PDF: places in the page, onto which they are drawn when it is written. */
final class PaperDrawer implements Drawer {
    private static final String TYPE = "kadrem/drawing";
    private static final double MARK_SIZE = 14;

    private final List<Drawing> drawings = new ArrayList<>();

    /** Something drawn in a space of {@code width} by {@code height}. */
    private record Drawing(double width, double height, java.util.function.Consumer<Graphics2D> draw) {
    }

    @Override
    public Element figure(JFreeChart chart, String title) {
        return place(new Drawing(WIDTH, HEIGHT,
                to -> chart.draw(to, new Rectangle2D.Double(0, 0, WIDTH, HEIGHT)))).attr("class", "figure");
    }

    @Override
    public Element mark(Mark mark) {
        return place(new Drawing(MARK_SIZE, MARK_SIZE, to -> {
            to.translate(MARK_SIZE / 2, MARK_SIZE / 2);
            to.setColor(Color.decode(mark.colour()));
            to.fill(mark.awtShape(MARK_SIZE / 2 - 1));
        })).attr("class", "mark");
    }

    private Element place(Drawing drawing) {
        drawings.add(drawing);
        return new Element("object").attr("type", TYPE).attr("data-number", Integer.toString(drawings.size() - 1));
    }

    /** What draws onto the places. */
    DefaultObjectDrawerFactory factory() {
        var factory = new DefaultObjectDrawerFactory();
        FSObjectDrawer drawer = (place, x, y, width, height, to, _, dotsPerPixel) -> {
            Drawing drawing = drawings.get(Integer.parseInt(place.getAttribute("data-number")));
            double scale = 1.0 / dotsPerPixel;
            to.drawWithGraphics((float) x, (float) y, (float) (width * scale), (float) (height * scale), graphics -> {
                graphics.transform(AffineTransform.getScaleInstance(width * scale / drawing.width(),
                        height * scale / drawing.height()));
                drawing.draw().accept(graphics);
            });
            return Map.of();
        };
        factory.registerDrawer(TYPE, drawer);
        return factory;
    }
}
