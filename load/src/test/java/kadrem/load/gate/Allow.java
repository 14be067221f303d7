package kadrem.load.gate;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.List;

import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Workload;
import kadrem.load.campaign.Control;

/** Gives the word of the user who runs the tests. */
public final class Allow {
    private Allow() {
    }

    /** For all that a study would do, as it is now. */
    public static void all(MeasuredStudy study, Path folder) {
        Consent consent = Consent.ofUser();
        try {
            consent.allowToo(consent.asks(study, folder), folder);
        } catch (IOException cause) {
            throw new UncheckedIOException(cause);
        }
    }

    /** For everything in a folder that was made here. */
    public static Control control(Path folder) {
        try {
            Consent.ofUser().own(folder);
        } catch (IOException cause) {
            throw new UncheckedIOException(cause);
        }
        return Control.ofUser(folder, new Workload(List.of(), List.of()));
    }
}
