package kadrem.core.study;

import java.time.Duration;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * How a candidate is started and stopped.
 *
 * @param command program and arguments; {@code {{port}}} and {@code {{kadrem}}} are replaced before the start
 * @param folder working folder, relative to the study folder
 * @param processors processor set such as "1" or "0-3,6", applied where the system allows it
 * @param readyWithin time limit from the start until the ready probe answers
 * @param stopWithin time between the request to end and the forced end
 */
public record Launch(List<String> command, String folder, Map<String, String> environment, Optional<String> processors,
        Duration readyWithin, Duration stopWithin) {
    public Launch {
        command = List.copyOf(command);
        environment = Map.copyOf(environment);
    }

    /** Whether a text is a set of processors such as "1" or "0-3,6". */
    public static boolean isProcessors(String written) {
        return written.matches("\\d{1,4}(-\\d{1,4})?(,\\d{1,4}(-\\d{1,4})?)*")
                && Arrays.stream(written.split(",")).map(part -> part.split("-"))
                        .allMatch(ends -> Integer.parseInt(ends[0]) <= Integer.parseInt(ends[ends.length - 1]));
    }

    /**
     * Processors of a set.
     *
     * @param written one that {@link #isProcessors}
     */
    public static BitSet processors(String written) {
        var set = new BitSet();
        for (String part : written.split(",")) {
            String[] ends = part.split("-");
            set.set(Integer.parseInt(ends[0]), Integer.parseInt(ends[ends.length - 1]) + 1);
        }
        return set;
    }
}
