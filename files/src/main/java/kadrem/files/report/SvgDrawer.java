package kadrem.files.report;

import java.awt.Dimension;
import java.awt.Shape;
import java.awt.geom.PathIterator;
import java.awt.geom.Rectangle2D;
import java.util.Locale;

import org.apache.batik.dom.GenericDOMImplementation;
import org.apache.batik.svggen.SVGGeneratorContext;
import org.apache.batik.svggen.SVGGraphics2D;
import org.apache.batik.svggen.SVGIDGenerator;
import org.jfree.chart.ChartRenderingInfo;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.entity.ChartEntity;
import kadrem.figures.Mark;
import org.jsoup.nodes.Element;
import org.jsoup.nodes.TextNode;
import org.w3c.dom.Document;
import org.w3c.dom.Node;

/** Figures and markers as SVG inside a page. Each value of a figure is a place with a title, which a browser shows under the pointer. */
final class SvgDrawer implements Drawer {
    private static final double MARKER = 5.5;
    private static final String SVG = "http://www.w3.org/2000/svg";

    private int figures;

    @Override
    public Element figure(JFreeChart chart, String title) {
        figures++;
        return drawn(chart, "f" + figures, title);
    }

    /** @param id differs from that of every other figure of the page */
    private static Element drawn(JFreeChart chart, String id, String title) {
        Document document = GenericDOMImplementation.getDOMImplementation().createDocument(SVG, "svg", null);
        SVGGeneratorContext context = SVGGeneratorContext.createDefault(document);
        context.setComment(null);
        // ids of all figures live on the same page
        context.setIDGenerator(new SVGIDGenerator() {
            @Override
            public String generateID(String prefix) {
                return id + "-" + super.generateID(prefix);
            }
        });
        var drawing = new SVGGraphics2D(context, false);
        drawing.setSVGCanvasSize(new Dimension(WIDTH, HEIGHT));
        var info = new ChartRenderingInfo();
        chart.draw(drawing, new Rectangle2D.Double(0, 0, WIDTH, HEIGHT), info);
        org.w3c.dom.Element root = drawing.getRoot();
        Element svg = copied(root);
        svg.removeAttr("width");
        svg.removeAttr("height");
        svg.attr("xmlns", SVG).attr("viewBox", "0 0 " + WIDTH + " " + HEIGHT).attr("role", "img").attr("aria-label",
                Shown.text(title));
        svg.select("[id=genericDefs]").forEach(defs -> defs.attr("id", id + "-defs"));
        addValues(svg, info);
        return svg;
    }

    /** The marker of a candidate, as high as a letter. */
    @Override
    public Element mark(Mark mark) {
        var svg = new Element("svg").attr("xmlns", SVG).attr("viewBox", "-7 -7 14 14").attr("class", "mark")
                .attr("aria-hidden", "true");
        svg.appendElement("path").attr("d", path(mark.awtShape(MARKER))).attr("fill", mark.colour());
        return svg;
    }

    private static Element copied(org.w3c.dom.Element from) {
        var to = new Element(from.getTagName());
        for (int i = 0; i < from.getAttributes().getLength(); i++) {
            Node attribute = from.getAttributes().item(i);
            // a page needs no namespaces, and would take "xml:space" for an attribute of its own
            if (!attribute.getNodeName().startsWith("xml")) {
                to.attr(attribute.getNodeName(), attribute.getNodeValue());
            }
        }
        for (Node child = from.getFirstChild(); child != null; child = child.getNextSibling()) {
            switch (child) {
                case org.w3c.dom.Element element -> to.appendChild(copied(element));
                case org.w3c.dom.Text text -> to.appendChild(new TextNode(text.getData()));
                default -> {
                    // comments say nothing to a reader
                }
            }
        }
        return to;
    }

    private static void addValues(Element svg, ChartRenderingInfo info) {
        Element values = svg.appendElement("g").attr("class", "values");
        for (Object one : info.getEntityCollection().getEntities()) {
            var entity = (ChartEntity) one;
            String text = entity.getToolTipText();
            if (text != null && !text.isBlank()) {
                values.appendElement("path").attr("d", path(entity.getArea())).attr("class", "value")
                        .appendElement("title").text(Shown.text(text));
            }
        }
        if (values.childrenSize() == 0) {
            values.remove();
        }
    }

    private static String path(Shape shape) {
        var path = new StringBuilder();
        var at = new double[6];
        for (PathIterator i = shape.getPathIterator(null); !i.isDone(); i.next()) {
            int kind = i.currentSegment(at);
            int numbers = switch (kind) {
                case PathIterator.SEG_MOVETO, PathIterator.SEG_LINETO -> 2;
                case PathIterator.SEG_QUADTO -> 4;
                case PathIterator.SEG_CUBICTO -> 6;
                default -> 0;
            };
            path.append("MLQCZ".charAt(kind));
            for (int n = 0; n < numbers; n++) {
                path.append(n == 0 ? "" : " ").append(String.format(Locale.ROOT, "%.1f", at[n]));
            }
        }
        return path.toString();
    }
}
