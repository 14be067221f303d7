/** What a run on record came to, in words. */
@NullMarked
package kadrem.desk.run;

import org.jspecify.annotations.NullMarked;
