/** The drawer in which every figure explains itself. */
@NullMarked
package kadrem.desk.why;

import org.jspecify.annotations.NullMarked;
