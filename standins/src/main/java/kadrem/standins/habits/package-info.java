/** A berth board with one habit each that practitioners know from its traces: how it writes, closes, waits, remembers or limits. */
@NullMarked
package kadrem.standins.habits;

import org.jspecify.annotations.NullMarked;
