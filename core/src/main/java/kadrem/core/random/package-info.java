/** Chance that is the same for the same seed. */
@NullMarked
package kadrem.core.random;

import org.jspecify.annotations.NullMarked;
