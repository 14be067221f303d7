/** Records what a client sends, to make a visit of it. */
@NullMarked
package kadrem.load.record;

import org.jspecify.annotations.NullMarked;
