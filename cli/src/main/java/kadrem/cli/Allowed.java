package kadrem.cli;

import kadrem.files.study.StudyFile;
import kadrem.load.gate.Consent;
import kadrem.load.gate.NotAllowed;

/** Asks, before anything of a study is done, whether it may be. */
final class Allowed {
    private Allowed() {
    }

    /** @throws Main.BadInput if something of the study waits for the user's word; says what, and how to give it */
    static void require(StudyFile file) throws Main.BadInput {
        try {
            Consent.ofUser().require(file.study(), file.folder());
        } catch (NotAllowed waits) {
            throw new Main.BadInput("Nothing was done: " + waits.getMessage());
        }
    }
}
