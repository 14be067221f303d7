/** Kafka's protocol. */
@NullMarked
package kadrem.load.drive.kafka;

import org.jspecify.annotations.NullMarked;
