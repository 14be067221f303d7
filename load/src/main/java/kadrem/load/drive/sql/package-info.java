/** SQL by JDBC. */
@NullMarked
package kadrem.load.drive.sql;

import org.jspecify.annotations.NullMarked;
