/** Looks into responses: decoding, expectations, captured values. */
@NullMarked
package kadrem.load.content;

import org.jspecify.annotations.NullMarked;
