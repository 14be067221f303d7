package kadrem.work;

import java.io.IOException;
import java.time.Clock;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.function.Predicate;

import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.rehearsal.RehearsalFile;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.Rehearsing;
import kadrem.load.campaign.Step;
import kadrem.load.content.UnreadableContent;

/** Makes every visit once with every candidate, and keeps what they answered beside the study. */
public final class Rehearse {
    private Rehearse() {
    }

    /**
     * A rehearsal.
     *
     * @param trouble why it could not be kept; empty where it was
     */
    public record Rehearsed(Rehearsal rehearsal, Optional<String> trouble) {
    }

    /**
     * Rehearses.
     *
     * @param isUp candidates that the user has launched already, which are used as they are and left running
     * @param told of each step, on the calling thread
     * @throws NotDone if it may not be, or cannot be; the objection says why
     * @throws InterruptedException if the thread was interrupted; what was launched is stopped
     */
    public static Rehearsed run(StudyFile file, Predicate<Candidate> isUp, BiConsumer<Candidate, Step> told)
            throws NotDone, InterruptedException {
        Preflight.requireAsking(file);
        MeasuredStudy study = file.measured();
        Rehearsal made;
        try {
            made = new Rehearsing(study, file.folder(), Program.command(), Clock.systemUTC(), isUp, told).run();
        } catch (UnreadableContent cause) {
            throw new NotDone(StudyFile.NAME + ": rehearsal.ignoreJson: " + cause.getMessage());
        }
        try {
            RehearsalFile.write(file.folder(), made, study.agreement());
            return new Rehearsed(made, Optional.empty());
        } catch (IOException cause) {
            return new Rehearsed(made, Optional.of("the rehearsal could not be kept: " + cause.getMessage()));
        }
    }
}
