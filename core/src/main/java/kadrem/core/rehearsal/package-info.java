/** What one visit to every candidate, without load, showed: the exchanges, and where answers differ. */
@NullMarked
package kadrem.core.rehearsal;

import org.jspecify.annotations.NullMarked;
