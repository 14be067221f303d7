/** The load and the plan that are proposed for candidates of which little is known yet. */
@NullMarked
package kadrem.core.proposal;

import org.jspecify.annotations.NullMarked;
