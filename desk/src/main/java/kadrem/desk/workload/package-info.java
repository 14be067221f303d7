/** The station where visits, calls and value lists are made. */
@NullMarked
package kadrem.desk.workload;

import org.jspecify.annotations.NullMarked;
