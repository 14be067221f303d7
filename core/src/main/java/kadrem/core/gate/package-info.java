/** What a study would have done outside its own folder, in words that a user can give a word to. */
@NullMarked
package kadrem.core.gate;

import org.jspecify.annotations.NullMarked;
