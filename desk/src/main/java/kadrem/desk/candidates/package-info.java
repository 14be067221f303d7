/** The station where candidates are set side by side, launched and probed. */
@NullMarked
package kadrem.desk.candidates;

import org.jspecify.annotations.NullMarked;
