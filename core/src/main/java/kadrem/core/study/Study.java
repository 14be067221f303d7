package kadrem.core.study;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** The whole of what is asked. Runs are kept beside it, not in it. */
public sealed interface Study permits MeasuredStudy, FigureStudy {
    String name();

    Question question();

    List<Candidate> candidates();

    Plan plan();

    Judgement judgement();

    /** The same, judged otherwise. */
    Study withJudgement(Judgement other);

    /** Names of the attributes of candidates in which a difference is meant. */
    List<String> intended();

    /** What was noted of moments of runs. */
    List<Annotation> annotations();

    /** How levels of load are searched; empty where there is one level, or none. */
    Optional<LevelSearch> search();

    /** The study, where its candidates are put under a load. */
    default Optional<MeasuredStudy> measured() {
        return this instanceof MeasuredStudy one ? Optional.of(one) : Optional.empty();
    }

    /** Names of the parts of a run of which figures are told by themselves: crowds, then calls. */
    default List<String> parts() {
        return List.of();
    }

    /** The metrics by which its runs can be compared and judged, those of all calls first. */
    default List<Metric> metrics() {
        return Stream.concat(Metric.all().stream(), parts().stream().flatMap(part -> Metric.parts(part).stream()))
                .toList();
    }

    /** What is to be shown together, and shares the significance: pairs on deciding metrics, and requirements of candidates. */
    default int items() {
        return pairs().size() * question().deciders().size() + candidates().size() * question().requirements().size();
    }

    default Optional<Candidate> candidate(String id) {
        return candidates().stream().filter(candidate -> candidate.id().equals(id)).findFirst();
    }

    /** Position of a candidate, which gives it its letter, colour and marker; -1 if it is not in the study. */
    default int indexOf(String candidateId) {
        for (int i = 0; i < candidates().size(); i++) {
            if (candidates().get(i).id().equals(candidateId)) {
                return i;
            }
        }
        return -1;
    }

    /** Pairs of candidates, of which the baseline comes first where it is one of them. */
    default List<CandidatePair> pairs() {
        var ordered = new java.util.ArrayList<>(candidates().stream().map(Candidate::id).toList());
        if (ordered.remove(question().baseline())) {
            ordered.addFirst(question().baseline());
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
    record CandidatePair(String baseline, String candidate) {
    }
}
