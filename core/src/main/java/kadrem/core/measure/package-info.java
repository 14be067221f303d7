/** What a run recorded: counts and latency histograms by second, host samples, soundness, figures. */
@NullMarked
package kadrem.core.measure;

import org.jspecify.annotations.NullMarked;
