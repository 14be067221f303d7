/** From runs to words: paired comparison of candidates and the outcome in sentences. */
@NullMarked
package kadrem.core.verdict;

import org.jspecify.annotations.NullMarked;
