/** Programs that are started for each call, for candidates that are command lines. */
@NullMarked
package kadrem.load.drive.command;

import org.jspecify.annotations.NullMarked;
