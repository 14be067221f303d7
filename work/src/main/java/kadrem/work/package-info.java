/** The use cases: what the window and the command line both do, done once and told in the same words. */
@NullMarked
package kadrem.work;

import org.jspecify.annotations.NullMarked;
