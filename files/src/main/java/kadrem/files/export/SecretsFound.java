package kadrem.files.export;

import java.io.IOException;
import java.util.List;
import java.util.stream.Collectors;

/** What was to be written holds what looks like secrets, so that it was not. */
public final class SecretsFound extends IOException {
    private static final long serialVersionUID = 1L;
    private static final int MAX_TOLD = 12;

    /** @param places where, and what: "study.yaml, line 12: the value of password" */
    SecretsFound(List<String> places) {
        super("it holds what looks like secrets:\n"
                + places.stream().limit(MAX_TOLD).map(place -> "  " + place).collect(Collectors.joining("\n"))
                + (places.size() > MAX_TOLD ? "\n  and " + (places.size() - MAX_TOLD) + " more" : "")
                + "\nTake them out, or refer to them as {{env:NAME}}");
    }
}
