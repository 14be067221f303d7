/** Small real services that stand in for what a team would choose between. */
@NullMarked
package kadrem.standins;

import org.jspecify.annotations.NullMarked;
