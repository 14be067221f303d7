/** The window. */
@NullMarked
package kadrem.desk;

import org.jspecify.annotations.NullMarked;
