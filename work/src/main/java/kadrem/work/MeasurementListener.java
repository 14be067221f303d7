package kadrem.work;

import java.util.List;

import kadrem.core.measure.Capacity;
import kadrem.core.measure.RunRecord;
import kadrem.load.campaign.CampaignListener;

/** Who watches a measurement. Called on the thread that measures, and on those of its runs. */
public interface MeasurementListener extends CampaignListener {
    /** Something that does not stand against measuring, in a clause. */
    void note(String clause);

    /** What is being done before the first run, in a few words. */
    void prepares(String what);

    /** A run that a Kadrem which was killed left behind was marked as cut off. */
    default void cutOff(RunRecord run) {
        note("round " + run.round() + ", " + run.candidate() + ": " + run.reason());
    }

    /** What is measured from now on, and how many runs are to be made. */
    void begins(Target target, int runs);

    /**
     * A self-check found out what load this machine can make.
     *
     * @param objections why this load cannot be made well, in sentences; empty where it can
     */
    void machine(Capacity found, List<String> objections);
}
