/** A Linux host asked over SSH. */
@NullMarked
package kadrem.load.host.remote;

import org.jspecify.annotations.NullMarked;
