package kadrem.files.study;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Candidate;
import kadrem.core.study.Factor;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;

/** Reads {@code question}: what is to be decided, by which metrics and judged factors, within which requirements. */
final class QuestionReader {
    private QuestionReader() {
    }

    static Question read(Fields fields, List<Candidate> candidates) {
        String baseline = fields.optional("baseline")
                .orElseGet(() -> candidates.isEmpty() ? "" : candidates.getFirst().id());
        List<Question.Decider> deciders = fields.groups("decide").stream().flatMap(
                decide -> metric(decide).map(metric -> new Question.Decider(metric,
                        decide.share("margin", metric.usualMargin().size()), decide.number("weight"))).stream())
                .toList();
        return new Question(fields.text("text"), baseline, fields.share("significance"), deciders,
                LoadReader.requirements(fields), fields.groups("judge").stream().map(QuestionReader::factor).toList());
    }

    /** A metric, and the crowd or call that it is of. */
    static Optional<Metric> metric(Fields fields) {
        Optional<Metric> metric = fields.choice("metric", Metric::byId);
        String part = fields.text("of").strip();
        if (!part.isEmpty() && metric.isPresent() && !metric.get().kind().hasParts()) {
            fields.error("of", "stands beside " + metric.get().id() + ", which is of the candidate as a whole",
                    "Remove it.");
            return metric;
        }
        return metric.map(one -> one.of(part));
    }

    private static Factor factor(Fields fields) {
        Map<String, Factor.Score> scores = new HashMap<>();
        fields.named("scores").forEach((candidate, score) -> scores.put(candidate,
                new Factor.Score(Math.clamp(score.count("step"), 1, Factor.SCALE.size()), score.text("reason"))));
        return new Factor(fields.text("factor"), fields.number("weight"), scores);
    }
}
