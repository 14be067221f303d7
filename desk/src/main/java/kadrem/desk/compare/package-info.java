/** The station where runs become estimates and outcomes. */
@NullMarked
package kadrem.desk.compare;

import org.jspecify.annotations.NullMarked;
