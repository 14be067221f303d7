/** Figures as charts that any medium can show: the window on a canvas, a report as SVG, a file as PNG. No JavaFX. */
@NullMarked
package kadrem.figures;

import org.jspecify.annotations.NullMarked;
