/** What a study is: immutable records for the question, the candidates, the workload, the load and the plan. */
@NullMarked
package kadrem.core.study;

import org.jspecify.annotations.NullMarked;
