package kadrem.files.study;

import java.time.Duration;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Expectations;
import kadrem.core.study.ThinkTime;

/** What calls have that do not say otherwise, as {@code workload.defaults} gives it. */
public record CallDefaults(Map<String, String> headers, Optional<Duration> timeout, Optional<ThinkTime> thinkTime,
        Optional<Expectations> expected) {
    /** Nothing. */
    public static final CallDefaults NONE = new CallDefaults(Map.of(), Optional.empty(), Optional.empty(),
            Optional.empty());

    public CallDefaults {
        headers = java.util.Collections.unmodifiableMap(new java.util.LinkedHashMap<>(headers));
    }
}
