/** The command line. */
@NullMarked
package kadrem.cli;

import org.jspecify.annotations.NullMarked;
