package kadrem.core.study;

import java.util.BitSet;
import java.util.List;
import java.util.Optional;

/**
 * The whole of what is asked and how it is measured. Runs are kept beside it, not in it.
 *
 * @param annotations what was noted of moments of runs
  * @param figures where they were measured elsewhere: such a study has no workload and no load of its own
 * @param intended names of the attributes of candidates in which a difference is meant
 */
public record Study(String name, Question question, List<Candidate> candidates, Workload workload, LoadProfile load,
        Plan plan, Agreement agreement, List<String> intended, Judgement judgement,
        List<Annotation> annotations, List<FigureFile> figures) {
    public Study {
        candidates = List.copyOf(candidates);
        intended = List.copyOf(intended);
        annotations = List.copyOf(annotations);
        figures = List.copyOf(figures);
    }

    /** A study with a load of its own. */
    public Study(String name, Question question, List<Candidate> candidates, Workload workload, LoadProfile load,
            Plan plan, Agreement agreement, List<String> intended, Judgement judgement, List<Annotation> annotations) {
        this(name, question, candidates, workload, load, plan, agreement, intended, judgement, annotations, List.of());
    }

    /** What is to be shown together, and shares the significance: pairs on deciding metrics, and requirements of candidates. */
    public int items() {
        return pairs().size() * question.deciders().size() + candidates.size() * question.requirements().size();
    }

    /** Whether its figures were measured elsewhere, so that it can be compared and decided but not measured. */
    public boolean isElsewhere() {
        return !figures.isEmpty();
    }

    /** The same, judged otherwise. */
    public Study withJudgement(Judgement other) {
        return new Study(name, question, candidates, workload, load, plan, agreement, intended, other, annotations,
                figures);
    }

    /** A study without annotations. */
    public Study(String name, Question question, List<Candidate> candidates, Workload workload, LoadProfile load,
            Plan plan, Agreement agreement, List<String> intended, Judgement judgement) {
        this(name, question, candidates, workload, load, plan, agreement, intended, judgement, List.of());
    }

    /** A study whose candidates must answer exactly alike. */
    public Study(String name, Question question, List<Candidate> candidates, Workload workload, LoadProfile load,
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

    public Optional<Candidate> candidate(String id) {
        return candidates.stream().filter(candidate -> candidate.id().equals(id)).findFirst();
    }

    /** Position of a candidate, which gives it its letter, colour and marker; -1 if it is not in the study. */
    public int indexOf(String candidateId) {
        for (int i = 0; i < candidates.size(); i++) {
            if (candidates.get(i).id().equals(candidateId)) {
                return i;
            }
        }
        return -1;
    }

    /** Pairs of candidates, of which the baseline comes first where it is one of them. */
    public List<CandidatePair> pairs() {
        var ordered = new java.util.ArrayList<>(candidates.stream().map(Candidate::id).toList());
        if (ordered.remove(question.baseline())) {
            ordered.addFirst(question.baseline());
        }
        var pairs = new java.util.ArrayList<CandidatePair>();
        for (int i = 0; i < ordered.size(); i++) {
            for (int j = i + 1; j < ordered.size(); j++) {
                pairs.add(new CandidatePair(ordered.get(i), ordered.get(j)));
            }
        }
        return List.copyOf(pairs);
    }

    /** Ids of two candidates: what is compared with, and what is compared. */
    public record CandidatePair(String baseline, String candidate) {
    }
}
