/** What a study may say: the grammar of its file, field by field, and the checks of fields against each other. */
@NullMarked
package kadrem.core.check;

import org.jspecify.annotations.NullMarked;
