package kadrem.core.study;

import java.util.List;

/** The mix of visits that simulated users make, and the value lists that vary them. */
public record Workload(List<ValueList> values, List<Visit> visits) {
    public Workload {
        values = List.copyOf(values);
        visits = List.copyOf(visits);
    }

    /** Every call of every visit, in the order of the study. The position is the call's number everywhere. */
    public List<Call> calls() {
        return visits.stream().flatMap(visit -> visit.calls().stream()).toList();
    }

    /** Mean number of calls of a visit, weighted by share. */
    public double meanCallsPerVisit() {
        double shares = visits.stream().mapToDouble(Visit::share).sum();
        return visits.stream().mapToDouble(visit -> visit.share() * visit.calls().size()).sum() / shares;
    }
}
