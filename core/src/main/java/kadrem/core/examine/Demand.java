package kadrem.core.examine;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

import kadrem.core.measure.HostSeries;
import kadrem.core.scaling.Laws;

/**
 * What a call costs a resource that can run out, by the utilisation law U = X S (Jain 1991, chapter 33).
 *
 * @param idle share of the resource that is in use without load, 0 to 1
 * @param used share in use under load
 * @param demandSeconds S, how long one call keeps one unit of it busy
 * @param saturation throughput at which nothing of it is left, were the demand the same
 */
public record Demand(HostSeries series, double idle, double used, double demandSeconds, double saturation) {
    /** Less than this share that the load takes is too little to be told from nothing. */
    private static final double MIN = 0.01;

    /**
     * The demands of all resources whose end is known, the first to run out first.
     *
     * @param throughput X, calls a second under load
     * @param cores processors that the candidate may use
     * @param hostCores processors of the host that is watched as "this host"
     */
    public static List<Demand> of(List<Moved> moved, double throughput, double cores, double hostCores) {
        var demands = new ArrayList<Demand>();
        for (Moved one : moved) {
            double units = units(one.series(), cores, hostCores);
            double full = switch (one.series().unit()) {
                case "% of a core" -> 100 * cores;
                case "% of all processors", "% of the time" -> 100;
                default -> 0;
            };
            if (full > 0 && units > 0 && throughput > 0 && (one.loaded() - one.idle()) / full >= MIN) {
                double idle = one.idle() / full;
                double used = one.loaded() / full;
                double demand = Laws.serviceDemand((used - idle) * units, throughput);
                demands.add(new Demand(one.series(), idle, used, demand,
                        Laws.saturation((1 - Math.min(1, idle)) * units, demand)));
            }
        }
        demands.sort(Comparator.comparingDouble(Demand::saturation));
        return List.copyOf(demands);
    }

    private static double units(HostSeries series, double cores, double hostCores) {
        return switch (series.unit()) {
            case "% of a core" -> cores;
            // of a host that is far away the number is not known: its share is all there is
            case "% of all processors" -> series.source().equals("this host") ? hostCores : 1;
            default -> 1;
        };
    }
}
