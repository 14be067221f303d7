/** Estimates, intervals and tests, each a small class with its source. */
@NullMarked
package kadrem.core.stats;

import org.jspecify.annotations.NullMarked;
