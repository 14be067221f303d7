/** Figures for other programs, and whole studies for other places. */
@NullMarked
package kadrem.files.export;

import org.jspecify.annotations.NullMarked;
