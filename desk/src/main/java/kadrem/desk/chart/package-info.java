/** Figures, drawn by JFreeChart in Kadrem's own theme. */
@NullMarked
package kadrem.desk.chart;

import org.jspecify.annotations.NullMarked;
