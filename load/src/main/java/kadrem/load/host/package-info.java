/** Watches this host and process trees. */
@NullMarked
package kadrem.load.host;

import org.jspecify.annotations.NullMarked;
