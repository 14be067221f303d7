/** The station where one visit goes to every candidate, without load. */
@NullMarked
package kadrem.desk.rehearsal;

import org.jspecify.annotations.NullMarked;
