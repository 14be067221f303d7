/** What versions of a candidate were measured to be, over time. */
@NullMarked
package kadrem.files.history;

import org.jspecify.annotations.NullMarked;
