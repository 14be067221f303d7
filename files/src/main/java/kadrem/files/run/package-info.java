/** The run folder: journal, records and their reading. */
@NullMarked
package kadrem.files.run;

import org.jspecify.annotations.NullMarked;
