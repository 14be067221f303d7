/** Calls taken over from elsewhere: captures, pasted commands, request texts, descriptions of an interface. */
@NullMarked
package kadrem.files.imports;

import org.jspecify.annotations.NullMarked;
