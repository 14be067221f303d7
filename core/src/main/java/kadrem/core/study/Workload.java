package kadrem.core.study;

import java.util.List;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * The mix of visits that simulated users make, and the value lists that vary them.
 *
 * @param first calls that each user makes once before its first visit, such as a sign-in; what they capture stays with the
 *            user. A visit whose user could not make them fails
 * @param choice how a user chooses its next visit
 */
public record Workload(List<ValueList> values, List<Call> first, List<Visit> visits, Choice choice) {
    public Workload {
        values = List.copyOf(values);
        first = List.copyOf(first);
        visits = List.copyOf(visits);
    }

    /** Visits by share, without a first part. */
    public Workload(List<ValueList> values, List<Visit> visits) {
        this(values, List.of(), visits, Choice.BY_SHARE);
    }

    /** How the next visit is chosen. */
    public enum Choice {
        BY_SHARE("share"), IN_TURN("in-turn");

        private final String id;

        Choice(String id) {
            this.id = id;
        }

        /** The word used in files. */
        public String id() {
            return id;
        }
    }

    /**
     * Every call, in the order of the study: those of the first part, then those of every visit. The position is the call's
     * number everywhere.
     */
    public List<Call> calls() {
        return Stream.concat(first.stream(), visits.stream().flatMap(visit -> visit.calls().stream())).toList();
    }

    /** Names of all captured values, each once, in the order of the study. The position is the value's number everywhere. */
    public List<String> capturedNames() {
        return calls().stream().flatMap(call -> Stream.concat(call.captures().stream(),
                call.forms().stream().flatMap(form -> form.captures().stream().flatMap(List::stream))))
                .map(Capture::name).distinct().toList();
    }

    /** Numbers of the captured values that calls send as a proof of who they are, such as the token of a log-in. */
    public List<Integer> credentials() {
        List<String> captured = capturedNames();
        return calls().stream().flatMap(call -> call.headers().stream()).filter(Call.Header::isProof)
                .flatMap(header -> Call.placeholders(header.value()).stream()).map(captured::indexOf)
                .filter(number -> number >= 0).distinct().toList();
    }

    /** The same workload as candidates get it that speak {@code protocol}. */
    public Workload in(String protocol) {
        return new Workload(values, first.stream().map(call -> call.in(protocol)).toList(),
                visits.stream().map(visit -> new Visit(visit.name(), visit.share(), visit.repeat(),
                        visit.calls().stream().map(call -> call.in(protocol)).toList())).toList(),
                choice);
    }

    /** The part of it that a crowd makes. */
    public Workload of(Crowd crowd) {
        return crowd.isEveryone()
                ? this
                : new Workload(values, first.stream().filter(call -> crowd.begins(call.name())).toList(),
                        visits.stream().filter(visit -> crowd.makes(visit.name())).toList(), choice);
    }

    /** Numbers in this workload of the calls that a crowd makes, in the order of the crowd's own. */
    public int[] numbers(Crowd crowd) {
        IntStream ofFirst = IntStream.range(0, first.size()).filter(i -> crowd.begins(first.get(i).name()));
        IntStream ofVisits = IntStream.empty();
        int from = first.size();
        for (Visit visit : visits) {
            if (crowd.makes(visit.name())) {
                ofVisits = IntStream.concat(ofVisits, IntStream.range(from, from + visit.calls().size()));
            }
            from += visit.calls().size();
        }
        return IntStream.concat(ofFirst, ofVisits).toArray();
    }

    /** Mean number of calls of a visit, weighted by share and with repeats. */
    public double meanCallsPerVisit() {
        return weighted(visit -> visit.calls().size() * (double) visit.repeat());
    }

    /** Mean over visits of {@code value}: by share, or all alike where visits come in turn. */
    public double weighted(java.util.function.ToDoubleFunction<Visit> value) {
        double shares = visits.stream().mapToDouble(this::weight).sum();
        return visits.stream().mapToDouble(visit -> weight(visit) * value.applyAsDouble(visit)).sum() / shares;
    }

    private double weight(Visit visit) {
        return choice == Choice.IN_TURN ? 1 : visit.share();
    }
}
