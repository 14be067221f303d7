/** Everything that one seed fixes before a run starts: the order of a round, the stream of visits, its digest. */
@NullMarked
package kadrem.core.plan;

import org.jspecify.annotations.NullMarked;
