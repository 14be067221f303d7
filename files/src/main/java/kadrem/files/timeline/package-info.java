/** Arrivals as they came elsewhere: timelines of a study, and access logs from which they are made. */
@NullMarked
package kadrem.files.timeline;

import org.jspecify.annotations.NullMarked;
