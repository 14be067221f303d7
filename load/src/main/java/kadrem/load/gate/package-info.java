/** The gate: what a study would have done outside its own folder, and the user's word for it. */
@NullMarked
package kadrem.load.gate;

import org.jspecify.annotations.NullMarked;
