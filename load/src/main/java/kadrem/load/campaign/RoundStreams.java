package kadrem.load.campaign;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.concurrent.ConcurrentHashMap;

import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Soundness;
import kadrem.core.plan.StreamDigest;

/** What was sent in each round, of which every candidate must get the same. Any thread. */
final class RoundStreams {
    private final Map<String, StreamDigest> first = new ConcurrentHashMap<>();

    /** @param before runs of the same study that were made before */
    RoundStreams(List<RunRecord> before) {
        before.stream().filter(run -> run.outcome() == RunOutcome.COMPLETE).forEach(run -> run.stream()
                .ifPresent(stream -> first.putIfAbsent(key(run.round(), OptionalDouble.empty()), stream)));
    }

    /** Whether the stream is that of the round's first run; empty where this is the first. */
    Optional<Soundness.Finding> same(int round, OptionalDouble level, StreamDigest stream) {
        return Optional.ofNullable(first.putIfAbsent(key(round, level), stream))
                .map(known -> Soundness.sameStream(known.match(stream) == StreamDigest.Match.SAME));
    }

    private static String key(int round, OptionalDouble level) {
        return round + (level.isPresent() ? " at " + level.getAsDouble() : "");
    }
}
