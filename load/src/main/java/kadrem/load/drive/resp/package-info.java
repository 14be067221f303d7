/** The Redis serialization protocol, version 2: commands to a key-value store. */
@NullMarked
package kadrem.load.drive.resp;

import org.jspecify.annotations.NullMarked;
