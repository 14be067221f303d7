/** Ceilings: which level of load comes next, and what a level showed. */
@NullMarked
package kadrem.core.scaling;

import org.jspecify.annotations.NullMarked;
