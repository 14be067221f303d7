package kadrem.load.gate;

import java.nio.file.Path;

import kadrem.core.gate.Shown;

/** Something of a study has not the user's word yet. */
public final class NotAllowed extends Exception {
    private static final long serialVersionUID = 1L;

    private final transient Consent.Asked asked;

    NotAllowed(Consent.Asked asked, Path studyFolder) {
        super("you have not said yet that this study may do it.\n" + String.join("\n", asked.lines())
                + "\nIf it may: kadrem allow " + Shown.word(studyFolder.toString())
                + "   (with --own if it is yours and you will go on changing it)", null, false, false);
        this.asked = asked;
    }

    /** What it would do. */
    public Consent.Asked asked() {
        return asked;
    }
}
