/** AMQP 0-9-1. */
@NullMarked
package kadrem.load.drive.amqp;

import org.jspecify.annotations.NullMarked;
