/** A service whose cost is known, to see whether a difference of known size is found. */
@NullMarked
package kadrem.standins.known;

import org.jspecify.annotations.NullMarked;
