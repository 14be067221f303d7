/** Open formats in and out. */
@NullMarked
package kadrem.files;

import org.jspecify.annotations.NullMarked;
