/** The station where the load is set and predicted. */
@NullMarked
package kadrem.desk.load;

import org.jspecify.annotations.NullMarked;
