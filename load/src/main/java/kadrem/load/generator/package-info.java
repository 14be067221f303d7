/** The process of the load: small, the same for window and command line, and able to stand on another machine. */
@NullMarked
package kadrem.load.generator;

import org.jspecify.annotations.NullMarked;
