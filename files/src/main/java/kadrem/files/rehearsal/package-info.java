/** Rehearsals as JSON. */
@NullMarked
package kadrem.files.rehearsal;

import org.jspecify.annotations.NullMarked;
