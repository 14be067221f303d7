package kadrem.core.study;

import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A study whose candidates are put under a load.
 *
 * @param agreement when the candidates' answers count as the same
 * @param intended names of the attributes of candidates in which a difference is meant
 * @param annotations what was noted of moments of runs
 */
public record MeasuredStudy(String name, Question question, List<Candidate> candidates, Workload workload,
        LoadProfile load,
        Plan plan, Agreement agreement, List<String> intended, Judgement judgement,
        List<Annotation> annotations) implements Study {
    public MeasuredStudy {
        candidates = List.copyOf(candidates);
        intended = List.copyOf(intended);
        annotations = List.copyOf(annotations);
    }

    /** The same, judged otherwise. */
    @Override
    public MeasuredStudy withJudgement(Judgement other) {
        return new MeasuredStudy(name, question, candidates, workload, load, plan, agreement, intended, other,
                annotations);
    }

    /** The same with another plan. */
    public MeasuredStudy withPlan(Plan other) {
        return new MeasuredStudy(name, question, candidates, workload, load, other, agreement, intended, judgement,
                annotations);
    }

    /** The same of other candidates. */
    public MeasuredStudy withCandidates(List<Candidate> others) {
        return new MeasuredStudy(name, question, others, workload, load, plan, agreement, intended, judgement,
                annotations);
    }

    /** The same that sends something else. */
    public MeasuredStudy withWorkload(Workload other) {
        return new MeasuredStudy(name, question, candidates, other, load, plan, agreement, intended, judgement,
                annotations);
    }

    /** The same under another load. */
    public MeasuredStudy withLoad(LoadProfile other) {
        return new MeasuredStudy(name, question, candidates, workload, other, plan, agreement, intended, judgement,
                annotations);
    }

    /** Names of the crowds; none where there are none. */
    public List<String> crowdNames() {
        return load.crowds().stream().filter(crowd -> !crowd.isEveryone()).map(Crowd::name).toList();
    }

    /** Names of the calls of each crowd that no other makes, by its name; none where there are no crowds. */
    public Map<String, List<String>> callsOfCrowds() {
        var calls = new LinkedHashMap<String, List<String>>();
        load.crowds().stream().filter(crowd -> !crowd.isEveryone()).forEach(crowd -> calls.put(crowd.name(),
                workload.of(crowd).calls().stream().map(Call::name)
                        .filter(name -> load.crowds().stream().filter(other -> workload.of(other).calls().stream()
                                .anyMatch(call -> call.name().equals(name))).count() == 1)
                        .toList()));
        return calls;
    }

    @Override
    public List<String> parts() {
        return Stream.concat(crowdNames().stream(), workload.calls().stream().map(Call::name).distinct()).toList();
    }

    @Override
    public Optional<LevelSearch> search() {
        return load.course().search();
    }

    /** A study without annotations. */
    public MeasuredStudy(String name, Question question, List<Candidate> candidates, Workload workload,
            LoadProfile load,
            Plan plan, Agreement agreement, List<String> intended, Judgement judgement) {
        this(name, question, candidates, workload, load, plan, agreement, intended, judgement, List.of());
    }

    /** A study whose candidates must answer exactly alike. */
    public MeasuredStudy(String name, Question question, List<Candidate> candidates, Workload workload,
            LoadProfile load,
            Plan plan) {
        this(name, question, candidates, workload, load, plan, Agreement.EXACT, List.of(), Judgement.USUAL);
    }

    /** Processors on which the study keeps candidates that it launches; lanes keep off those of all, so that each meets the same. */
    public List<Integer> processorsOfCandidates() {
        var kept = new BitSet();
        candidates.stream().flatMap(candidate -> candidate.launch().stream())
                .flatMap(launch -> launch.processors().stream()).map(Launch::processors).forEach(kept::or);
        return kept.stream().boxed().toList();
    }
}
