package kadrem.figures;

import java.awt.Font;
import java.awt.Graphics2D;
import java.awt.geom.Rectangle2D;

import org.jfree.chart.block.RectangleConstraint;
import org.jfree.chart.title.Title;
import org.jfree.chart.ui.Size2D;
import org.jspecify.annotations.Nullable;

/**
 * A title without a size that changes the font before anything is written. A canvas that is drawn on again has lost its font, and is not
 * given the next one where that is the last one of the drawing before: its first words would then stand in a font of the system's.
 */
final class FirstFont extends Title {
    private static final long serialVersionUID = 1L;
    private static final Font OTHER = new Font(Font.MONOSPACED, Font.PLAIN, 1);

    @Override
    public void draw(Graphics2D g2, Rectangle2D area) {
        g2.setFont(OTHER);
    }

    @Override
    public @Nullable Object draw(Graphics2D g2, Rectangle2D area, @Nullable Object parameters) {
        draw(g2, area);
        return null;
    }

    @Override
    public Size2D arrange(Graphics2D g2, RectangleConstraint constraint) {
        return new Size2D(0, 0);
    }
}
