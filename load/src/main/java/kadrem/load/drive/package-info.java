/** What a protocol must offer so that lanes can make load with it. */
@NullMarked
package kadrem.load.drive;

import org.jspecify.annotations.NullMarked;
