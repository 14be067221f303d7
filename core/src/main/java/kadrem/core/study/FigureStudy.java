package kadrem.core.study;

import java.util.List;
import java.util.Optional;

/**
 * A study whose figures were measured elsewhere: it can be compared and decided, and there is nothing to send.
 *
 * @param figures files of values, each of one metric
 */
public record FigureStudy(String name, Question question, List<Candidate> candidates, Plan plan, Judgement judgement,
        List<FigureFile> figures) implements Study {
    public FigureStudy {
        candidates = List.copyOf(candidates);
        figures = List.copyOf(figures);
    }

    @Override
    public FigureStudy withJudgement(Judgement other) {
        return new FigureStudy(name, question, candidates, plan, other, figures);
    }

    @Override
    public List<String> intended() {
        return List.of();
    }

    @Override
    public List<Annotation> annotations() {
        return List.of();
    }

    @Override
    public Optional<LevelSearch> search() {
        return Optional.empty();
    }
}
