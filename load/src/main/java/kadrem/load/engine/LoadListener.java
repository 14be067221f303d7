package kadrem.load.engine;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.SecondTally;

/** Who is told what a load run records, always on the recording thread, never on a lane. */
public interface LoadListener {
    /** A second of all lanes is complete. The tally is only valid inside the call. */
    void second(SecondTally tally);

    void exchange(Exchange exchange);
}
