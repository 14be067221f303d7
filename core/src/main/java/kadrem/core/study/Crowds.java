package kadrem.core.study;

import java.time.Duration;
import java.util.List;

/**
 * Several crowds on one time axis.
 *
 * @param crowds two or more; each one's measured part is as long as that of the run
 * @param course of the run; those of the crowds have the same times
 */
public record Crowds(List<Crowd> crowds, Course course) implements LoadProfile {
    public Crowds {
        crowds = List.copyOf(crowds);
    }

    @Override
    public int connections() {
        return crowds.stream().mapToInt(crowd -> crowd.load().connections()).sum();
    }

    @Override
    public Duration measured() {
        return crowds.getFirst().load().measured();
    }
}
