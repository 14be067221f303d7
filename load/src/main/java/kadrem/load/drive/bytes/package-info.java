/** TCP and UDP: bytes or text out, and an answer that ends by length, delimiter, pattern or with the connection. */
@NullMarked
package kadrem.load.drive.bytes;

import org.jspecify.annotations.NullMarked;
