/** Runs a plan: launch, ready, reset, warm-up, measure, stop, record. */
@NullMarked
package kadrem.load.campaign;

import org.jspecify.annotations.NullMarked;
