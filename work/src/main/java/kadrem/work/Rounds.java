package kadrem.work;

import java.util.List;

import kadrem.core.measure.RunRecord;
import kadrem.core.study.MeasuredStudy;
import kadrem.load.campaign.OpenRun;

/** How much is to be measured. */
public sealed interface Rounds {
    /** Until so many rounds count. */
    record UpTo(int rounds) implements Rounds {
    }

    /** So many rounds more: those that are not whole yet first. */
    record Further(int rounds) implements Rounds {
    }

    /** The rounds that count when it is done. */
    default int wanted(MeasuredStudy study, List<RunRecord> runs) {
        return switch (this) {
            case UpTo(int rounds) -> rounds;
            case Further(int rounds) -> OpenRun.firstOpenRound(study, runs) + rounds - 1;
        };
    }
}
