/** A comparison as JSON and as text. */
@NullMarked
package kadrem.files.compare;

import org.jspecify.annotations.NullMarked;
