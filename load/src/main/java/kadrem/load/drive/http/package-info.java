/** HTTP/1.1 with keep-alive. */
@NullMarked
package kadrem.load.drive.http;

import org.jspecify.annotations.NullMarked;
