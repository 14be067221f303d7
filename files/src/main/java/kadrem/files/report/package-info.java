/** Results as documents: a report as HTML and PDF, and the decision as a record in Markdown. */
@NullMarked
package kadrem.files.report;

import org.jspecify.annotations.NullMarked;
