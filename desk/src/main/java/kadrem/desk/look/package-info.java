/** Type, colours, marks: what makes the window look like itself. */
@NullMarked
package kadrem.desk.look;

import org.jspecify.annotations.NullMarked;
