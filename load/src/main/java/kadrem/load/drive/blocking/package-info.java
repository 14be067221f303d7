/**
 * For protocols whose clients wait for their answers: each user has a virtual thread and a connection of its own, and hands
 * what comes of a call to its lane. A driver of this kind is a {@link kadrem.load.drive.blocking.Client} and little else.
 */
@NullMarked
package kadrem.load.drive.blocking;

import org.jspecify.annotations.NullMarked;
