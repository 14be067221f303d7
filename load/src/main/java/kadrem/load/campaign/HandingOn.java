package kadrem.load.campaign;

import java.time.Duration;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.WatchReading;

/** Hands on everything that a campaign tells; who extends it listens in. */
public abstract class HandingOn implements CampaignListener {
    private final CampaignListener next;

    /** @param next who else listens */
    protected HandingOn(CampaignListener next) {
        this.next = next;
    }

    @Override
    public void runBegins(RunRecord run, int number, int of, Duration left) {
        next.runBegins(run, number, of, left);
    }

    @Override
    public void step(RunRecord run, Step step) {
        next.step(run, step);
    }

    @Override
    public void second(RunRecord run, SecondSummary second) {
        next.second(run, second);
    }

    @Override
    public void watched(RunRecord run, WatchReading reading) {
        next.watched(run, reading);
    }

    @Override
    public void host(RunRecord run, HostSample sample) {
        next.host(run, sample);
    }

    @Override
    public void exchange(RunRecord run, Exchange exchange) {
        next.exchange(run, exchange);
    }

    @Override
    public void runEnds(RunRecord run, int number, int of, Duration left) {
        next.runEnds(run, number, of, left);
    }
}
