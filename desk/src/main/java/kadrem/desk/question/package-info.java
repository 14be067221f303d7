/** The question: what is decided, by what, and what the plan can show. */
@NullMarked
package kadrem.desk.question;

import org.jspecify.annotations.NullMarked;
