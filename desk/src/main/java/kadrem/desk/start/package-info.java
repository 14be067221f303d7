/** How the window is started, with what, and how its pictures are taken. */
@NullMarked
package kadrem.desk.start;

import org.jspecify.annotations.NullMarked;
