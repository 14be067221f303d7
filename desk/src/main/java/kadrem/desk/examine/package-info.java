/** The station that examines runs on record: figures of several runs, their calls, errors and hosts. */
@NullMarked
package kadrem.desk.examine;

import org.jspecify.annotations.NullMarked;
