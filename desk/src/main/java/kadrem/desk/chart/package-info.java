/** The place of a figure in the window. */
@NullMarked
package kadrem.desk.chart;

import org.jspecify.annotations.NullMarked;
