/** Access logs and files of instants: read line by line, grouped into calls, and written as a timeline of a study. */
@NullMarked
package kadrem.files.imports.log;

import org.jspecify.annotations.NullMarked;
