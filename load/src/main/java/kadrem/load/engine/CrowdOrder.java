package kadrem.load.engine;

import java.util.List;

import kadrem.core.study.Crowd;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Entrance;
import kadrem.core.study.Workload;

/**
 * What one crowd of a run is to send, and where. Its calls have numbers of their own, from 0.
 *
 * @param workload its part of the run's
 * @param numbers of its calls in the run's workload, under which they are recorded
 * @param seed of its stream
 * @param before users of the crowds before it
 */
public record CrowdOrder(Crowd crowd, Entrance entrance, Workload workload, List<Integer> numbers, long seed,
        long before) {
    public CrowdOrder {
        numbers = List.copyOf(numbers);
    }

    public LoadProfile.Single load() {
        return crowd.load();
    }
}
