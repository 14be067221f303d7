package kadrem.core.study;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

/** Small studies for tests. */
public final class Studies {
    public static final LoadProfile OPEN = new LoadProfile.Open(100, LoadProfile.Spacing.CONSTANT, 8,
            Duration.ofSeconds(1), Duration.ofSeconds(10), Duration.ofSeconds(5));

    private Studies() {
    }

    /** Two candidates, "a" the baseline and "b", that p99 decides between with a margin of 10 %. */
    public static MeasuredStudy two() {
        return of(List.of("a", "b"), OPEN, new Question.Decider(Metric.P99, 0.10));
    }

    public static MeasuredStudy withLoad(LoadProfile load) {
        return of(List.of("a", "b"), load, new Question.Decider(Metric.P99, 0.10));
    }

    public static MeasuredStudy of(List<String> ids, LoadProfile load, Question.Decider... deciders) {
        List<Candidate> candidates = ids.stream().map(Studies::candidate).toList();
        var call = Call.of("one-berth", "GET", "/berths/{{berth}}");
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 100)),
                List.of(new Visit("look", 1, List.of(call))));
        return new MeasuredStudy("berths", new Question("Which one?", ids.getFirst(), 0.05, List.of(deciders)),
                candidates,
                workload, load, new Plan(7, 1, Duration.ZERO));
    }

    public static Candidate candidate(String id) {
        return new Candidate(id, "Candidate " + id, new Address("127.0.0.1", 18_000, ""), Optional.empty(), "/health",
                Optional.empty(), Optional.empty());
    }
}
