/** A made-up host: an SSH server over a made-up /proc, and a metrics endpoint. */
@NullMarked
package kadrem.standins.host;

import org.jspecify.annotations.NullMarked;
