/** Sources on this host: itself, process trees, control groups, Java virtual machines. */
@NullMarked
package kadrem.load.host.local;

import org.jspecify.annotations.NullMarked;
