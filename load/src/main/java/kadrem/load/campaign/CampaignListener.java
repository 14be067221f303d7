package kadrem.load.campaign;

import java.time.Duration;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.WatchReading;

/** Who watches a campaign. Called on the campaign's and the recording thread. */
public interface CampaignListener {
    /** @param number place of the run among those that this campaign measures, from 1 */
    void runBegins(RunRecord run, int number, int of, Duration left);

    /** What is being done. */
    void step(RunRecord run, Step step);

    void second(RunRecord run, SecondSummary second);

    /** A source of the host watch told something, or told why it cannot. */
    default void watched(RunRecord run, WatchReading reading) {
        // of interest to those who draw it
    }

    /** A sample of this host and of Kadrem itself. */
    default void host(RunRecord run, HostSample sample) {
        // of interest to those who draw it
    }

    /** An exchange was kept as an example. */
    default void exchange(RunRecord run, Exchange exchange) {
        // of interest to those who show it
    }

    void runEnds(RunRecord run, int number, int of, Duration left);
}
