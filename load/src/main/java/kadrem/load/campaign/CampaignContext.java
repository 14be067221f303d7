package kadrem.load.campaign;

import java.nio.file.Path;
import java.time.Clock;

import kadrem.core.study.Candidate;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.load.drive.Secrets;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;

/**
 * What all runs of a campaign share.
 *
 * @param studyFolder folder to which working folders of launches are relative
 * @param kadrem what {@code {{kadrem}}} in a launch command stands for
 * @param maker where the loads are made
 */
record CampaignContext(MeasuredStudy study, Path studyFolder, String kadrem, LoadMaker maker, Clock clock,
        CampaignListener listener, Secrets secrets, Control control, RoundStreams streams, Interruption interruption) {
    /** The load that is put on a candidate. */
    LoadOrder order(Candidate candidate, LoadProfile load, long seed) {
        return order(study, candidate, load, seed);
    }

    static LoadOrder order(MeasuredStudy study, Candidate candidate, LoadProfile load, long seed) {
        return new LoadOrder(candidate.address(), candidate.access(), study.workload(), load, seed,
                LoadOrder.defaultLanes()).reaching(candidate.elsewhere()).paced(study.plan().pacing())
                .beside(study.processorsOfCandidates());
    }
}
