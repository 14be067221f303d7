/** MQTT 3.1.1 and 5. */
@NullMarked
package kadrem.load.drive.mqtt;

import org.jspecify.annotations.NullMarked;
