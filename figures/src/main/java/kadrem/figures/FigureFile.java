package kadrem.figures;

import java.awt.Dimension;
import java.awt.geom.Rectangle2D;
import java.io.IOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;

import javax.imageio.ImageIO;

import org.apache.batik.dom.GenericDOMImplementation;
import org.apache.batik.svggen.SVGGraphics2D;
import org.jfree.chart.JFreeChart;
import org.w3c.dom.Document;

/** A figure as a file: PNG at twice the size it has in the window, or SVG. */
public final class FigureFile {
    private static final int SHARPER = 2;

    private FigureFile() {
    }

    /**
     * Writes a chart as its file's ending says, {@code .svg} or {@code .png}.
     *
     * @param width in pixels of the window
     * @param height in pixels of the window
     * @throws IOException if it cannot be written, or has another ending
     */
    public static void write(JFreeChart chart, int width, int height, Path file) throws IOException {
        String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
        if (name.endsWith(".svg")) {
            writeSvg(chart, width, height, file);
        } else if (name.endsWith(".png")) {
            ImageIO.write(chart.createBufferedImage(width * SHARPER, height * SHARPER, width, height, null), "png",
                    file.toFile());
        } else {
            throw new IOException(
                    file.getFileName() + " ends neither in .png nor in .svg. Give it one of these endings.");
        }
    }

    private static void writeSvg(JFreeChart chart, int width, int height, Path file) throws IOException {
        Document document = GenericDOMImplementation.getDOMImplementation()
                .createDocument("http://www.w3.org/2000/svg", "svg", null);
        var drawing = new SVGGraphics2D(document);
        drawing.setSVGCanvasSize(new Dimension(width, height));
        chart.draw(drawing, new Rectangle2D.Double(0, 0, width, height));
        try (Writer out = Files.newBufferedWriter(file)) {
            drawing.stream(out, true);
        }
    }
}
