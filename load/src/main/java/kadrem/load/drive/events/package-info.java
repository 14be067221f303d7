/** Server-sent events. */
@NullMarked
package kadrem.load.drive.events;

import org.jspecify.annotations.NullMarked;
