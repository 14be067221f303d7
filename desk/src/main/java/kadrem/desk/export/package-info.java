/** What is written of a study for others. */
@NullMarked
package kadrem.desk.export;

import org.jspecify.annotations.NullMarked;
