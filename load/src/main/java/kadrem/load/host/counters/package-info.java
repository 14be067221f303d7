/** Sources that count by themselves: metrics endpoints and databases. */
@NullMarked
package kadrem.load.host.counters;

import org.jspecify.annotations.NullMarked;
