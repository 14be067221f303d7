package kadrem.files.study;

import java.util.ArrayList;
import java.util.Arrays;
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
        String text = fields.text("text", "Which implementation do we run next season?");
        String baseline = fields.optional("baseline")
                .orElseGet(() -> candidates.isEmpty() ? "" : candidates.getFirst().id());
        double significance = fields.share("significance", Optional.of(0.05), "0.05");
        var deciders = new ArrayList<Question.Decider>();
        for (Fields decide : fields.groups("decide")) {
            String id = decide.text("metric", "p99");
            Optional<Metric> metric = Metric.byId(id);
            double margin = decide.share("margin", Optional.of(0.05), "5%");
            double weight = weight(decide);
            if (metric.isEmpty() && !id.isEmpty()) {
                decide.error("metric", "is \"" + id + "\"", "Use one of: "
                        + String.join(", ", Arrays.stream(Metric.values()).map(Metric::id).toList()) + ".");
            }
            metric.ifPresent(known -> deciders.add(new Question.Decider(known, margin, weight)));
            decide.warnOfUnknown();
        }
        List<Factor> factors = fields.groups("judge").stream().map(QuestionReader::factor).toList();
        var question = new Question(text, baseline, significance, deciders, LoadReader.requirements(fields), factors);
        fields.warnOfUnknown();
        return question;
    }

    private static double weight(Fields fields) {
        double weight = fields.number("weight", Optional.of(1.0), "2");
        if (!(weight >= 0 && weight <= 1_000)) {
            fields.error("weight", "is " + weight, "Use a number from 0 to 1000; only their shares count.");
        }
        return weight;
    }

    private static Factor factor(Fields fields) {
        String name = fields.text("factor", "operation");
        double weight = weight(fields);
        Map<String, Factor.Score> scores = new HashMap<>();
        fields.optionalGroup("scores").ifPresent(group -> {
            for (String candidate : group.names()) {
                Fields score = group.group(candidate, "{step: 4, reason: we run two of these}");
                int step = score.smallInteger("step", Optional.empty(), "4");
                if (step < 1 || step > Factor.SCALE.size()) {
                    score.error("step", "is " + step, "Use 1 (" + Factor.SCALE.getFirst() + ") to "
                            + Factor.SCALE.size() + " (" + Factor.SCALE.getLast() + ").");
                }
                scores.put(candidate, new Factor.Score(step, score.text("reason", "we run two of these")));
                score.warnOfUnknown();
            }
        });
        fields.warnOfUnknown();
        return new Factor(name, weight, scores);
    }
}
