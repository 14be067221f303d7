/** What a run on record looks like under a choice of calls and a stretch of time. */
@NullMarked
package kadrem.core.examine;

import org.jspecify.annotations.NullMarked;
