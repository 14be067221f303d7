/** A relay that stands between two programs and makes the wire between them rough. */
@NullMarked
package kadrem.load.wire;

import org.jspecify.annotations.NullMarked;
