/** A broker of messages. */
@NullMarked
package kadrem.standins.broker;

import org.jspecify.annotations.NullMarked;
