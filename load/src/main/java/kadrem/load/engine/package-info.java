/** Lanes, pacing, users and recording. */
@NullMarked
package kadrem.load.engine;

import org.jspecify.annotations.NullMarked;
