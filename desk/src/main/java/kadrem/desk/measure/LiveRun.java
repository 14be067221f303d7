package kadrem.desk.measure;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.load.campaign.CampaignListener;

/**
 * What a campaign has said so far, taken by the window at its own pace: the campaign's threads write, the interface thread
 * reads a copy.
 */
final class LiveRun implements CampaignListener {
    private final Runnable runEnded;
    private Optional<RunRecord> run = Optional.empty();
    private String step = "";
    private int number;
    private int of;
    private Duration left = Duration.ZERO;
    private long leftSaidAt = System.nanoTime();
    private List<SecondSummary> seconds = new ArrayList<>();

    /** @param runEnded told on the campaign's thread after each run */
    LiveRun(Runnable runEnded) {
        this.runEnded = runEnded;
    }

    /** A copy of the present. */
    record Snapshot(Optional<RunRecord> run, String step, int number, int of, Duration left,
            List<SecondSummary> seconds) {
    }

    synchronized Snapshot snapshot() {
        Duration passed = Duration.ofNanos(System.nanoTime() - leftSaidAt);
        Duration rest = left.minus(passed);
        return new Snapshot(run, step, number, of, rest.isNegative() ? Duration.ZERO : rest, List.copyOf(seconds));
    }

    @Override
    public synchronized void runBegins(RunRecord begun, int runNumber, int runs, Duration timeLeft) {
        run = Optional.of(begun);
        step = "launching";
        number = runNumber;
        of = runs;
        left = timeLeft;
        leftSaidAt = System.nanoTime();
        seconds = new ArrayList<>();
    }

    @Override
    public synchronized void step(RunRecord current, String name) {
        step = name;
    }

    @Override
    public synchronized void second(RunRecord current, SecondSummary second) {
        seconds.add(second);
    }

    @Override
    public void runEnds(RunRecord ended, int runNumber, int runs, Duration timeLeft) {
        synchronized (this) {
            left = timeLeft;
            leftSaidAt = System.nanoTime();
        }
        runEnded.run();
    }
}
