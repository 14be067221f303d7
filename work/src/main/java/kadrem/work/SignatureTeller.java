package kadrem.work;

import java.io.IOException;
import java.time.Duration;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

import kadrem.core.examine.Signature;
import kadrem.core.measure.RunRecord;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.files.run.RunSignatures;
import kadrem.load.campaign.CampaignListener;
import kadrem.load.campaign.HandingOn;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Hands on what a campaign tells, and tells after each run what a practitioner would say of its record: each kind of it once for a
 * candidate, between the runs, when no load is made.
 */
final class SignatureTeller extends HandingOn {
    private static final Logger LOG = LoggerFactory.getLogger(SignatureTeller.class);

    private final Target target;
    private final Optional<Rehearsal> rehearsal;
    private final MeasurementListener listener;
    private final Set<String> told = new HashSet<>();

    /**
     * @param listener told what was found
     * @param next told all that the campaign tells
     */
    SignatureTeller(Target target, Optional<Rehearsal> rehearsal, MeasurementListener listener,
            CampaignListener next) {
        super(next);
        this.target = target;
        this.rehearsal = rehearsal;
        this.listener = listener;
    }

    @Override
    public void runEnds(RunRecord run, int number, int of, Duration left) {
        super.runEnds(run, number, of, left);
        try {
            List<Signature> found = RunSignatures.of(target.study(), target.store().folder(run), run, rehearsal);
            synchronized (told) {
                List<Signature> anew = found.stream().filter(one -> !told.contains(key(run, one))).toList();
                anew.forEach(one -> told.add(key(run, one)));
                String name = target.study().candidate(run.candidate()).map(one -> one.name()).orElse(run.candidate());
                anew.forEach(one -> listener.note(name + ": " + one.words()));
            }
        } catch (IOException | RuntimeException cause) {
            // what is only a hint must not end a measurement
            LOG.warn("no signature is looked for in {}", run.folderName(), cause);
        }
    }

    private static String key(RunRecord run, Signature found) {
        return run.candidate() + " " + found.kind().id();
    }
}
