/** The station where rounds are measured and watched. */
@NullMarked
package kadrem.desk.measure;

import org.jspecify.annotations.NullMarked;
