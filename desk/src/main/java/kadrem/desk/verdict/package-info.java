/** The verdict: requirements, weights, ranking, and the recommendation in words. */
@NullMarked
package kadrem.desk.verdict;

import org.jspecify.annotations.NullMarked;
