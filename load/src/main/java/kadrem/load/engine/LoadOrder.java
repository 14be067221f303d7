package kadrem.load.engine;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.plan.LoadStream;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Crowd;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Pacing;
import kadrem.core.study.Entrance;
import kadrem.core.study.Workload;

/**
 * What one run is to send, and where.
 *
 * @param access sign-in and TLS of the address
 * @param streamSeed fixes every visit and value; see {@link kadrem.core.plan.LoadStream}
 * @param lanes event-loop threads among which users or arrivals are dealt in turn
 * @param pacing how lanes wait; empty for what fits the host
 * @param processors a processor for each lane that is made here, on which it stays; empty where lanes may run anywhere
 * @param candidates processors of this host on which the study keeps its candidates, so that lanes take others
 * @param elsewhere where the candidate answers crowds that do not go to the address, by their names
 */
public record LoadOrder(Address address, Access access, Workload workload, LoadProfile load, long streamSeed,
        LaneShare lanes, Optional<Pacing> pacing, List<Integer> processors,
        List<Integer> candidates, Map<String, Entrance> elsewhere) {
    /** How lanes wait where neither study nor option says so; for hosts on which the load is not the matter, such as those of tests. */
    private static final Optional<Pacing> USUAL = Pacing.byId(System.getProperty("kadrem.pacing", ""));

    public LoadOrder {
        processors = List.copyOf(processors);
        candidates = List.copyOf(candidates);
        elsewhere = Map.copyOf(elsewhere);
    }

    /** An order of which all goes to one address. */
    public LoadOrder(Address address, Access access, Workload workload, LoadProfile load, long streamSeed,
            LaneShare lanes, Optional<Pacing> pacing, List<Integer> processors, List<Integer> candidates) {
        this(address, access, workload, load, streamSeed, lanes, pacing, processors, candidates, Map.of());
    }

    /** A whole load, with lanes that wait as fits the host. */
    public LoadOrder(Address address, Access access, Workload workload, LoadProfile load, long streamSeed, int lanes) {
        this(address, access, workload, load, streamSeed, LaneShare.whole(lanes), USUAL, List.of(),
                List.of());
    }

    /** An order to an address without sign-in. */
    public LoadOrder(Address address, Workload workload, LoadProfile load, long streamSeed, int lanes) {
        this(address, Access.OPEN, workload, load, streamSeed, lanes);
    }

    /** The same with a choice of how lanes wait; without one it stays as it is. */
    public LoadOrder paced(Optional<Pacing> chosen) {
        return new LoadOrder(address, access, workload, load, streamSeed, lanes, chosen.or(() -> pacing), processors,
                candidates, elsewhere);
    }

    /** The same with each lane on a processor of its own. */
    public LoadOrder on(List<Integer> ofLanes) {
        return new LoadOrder(address, access, workload, load, streamSeed, lanes, pacing, ofLanes, candidates,
                elsewhere);
    }

    /** The same where candidates are kept on some processors of this host. */
    public LoadOrder beside(List<Integer> ofCandidates) {
        return new LoadOrder(address, access, workload, load, streamSeed, lanes, pacing, processors, ofCandidates,
                elsewhere);
    }

    /** The same where some crowds go to other addresses of the candidate. */
    public LoadOrder reaching(Map<String, Entrance> others) {
        return new LoadOrder(address, access, workload, load, streamSeed, lanes, pacing, processors, candidates,
                others);
    }

    /** What each crowd is to send; one order of all where there are no crowds. */
    public List<CrowdOrder> crowds() {
        var orders = new ArrayList<CrowdOrder>();
        long before = 0;
        for (Crowd crowd : load.crowds()) {
            Entrance entrance = elsewhere.getOrDefault(crowd.name(), new Entrance(address, access));
            orders.add(new CrowdOrder(crowd, entrance, workload.of(crowd).in(entrance.address().protocol()),
                    Arrays.stream(workload.numbers(crowd)).boxed().toList(), LoadStream.seed(streamSeed, crowd),
                    before));
            before += crowd.load().connections();
        }
        return List.copyOf(orders);
    }

    /** Where its crowds go. */
    public List<Address> addresses() {
        return load.crowds().stream()
                .map(crowd -> Optional.ofNullable(elsewhere.get(crowd.name())).map(Entrance::address).orElse(address))
                .distinct().toList();
    }

    /** One lane for every two processors: on one machine the candidate needs the others. */
    public static int defaultLanes() {
        return Math.max(1, Runtime.getRuntime().availableProcessors() / 2);
    }
}
