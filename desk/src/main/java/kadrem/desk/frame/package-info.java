/** Spine, stage and evidence bar. */
@NullMarked
package kadrem.desk.frame;

import org.jspecify.annotations.NullMarked;
