/** Services that each run out of something else under load. */
@NullMarked
package kadrem.standins.troubled;

import org.jspecify.annotations.NullMarked;
