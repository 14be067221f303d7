/** The berth board of a small harbour: one set of answers, three ways to build the service. */
@NullMarked
package kadrem.standins.berths;

import org.jspecify.annotations.NullMarked;
