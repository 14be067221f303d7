package kadrem.desk.question;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Factor;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.desk.load.LoadForm;
import kadrem.files.study.Edit;

/** The question as texts that are typed, and the edits of the study that they mean. */
final class QuestionForm {
    private QuestionForm() {
    }

    /** "10%", or of metrics compared by difference "0.1%" of points. */
    static String share(double share) {
        return plain(share * 100) + "%";
    }

    static String plain(double number) {
        return new BigDecimal(number).round(new MathContext(6)).stripTrailingZeros().toPlainString();
    }

    /** Metric, margin and weight of each decider. */
    static List<List<String>> deciders(Question question) {
        return question.deciders().stream()
                .map(one -> List.of(one.metric().id(), share(one.margin().size()), plain(one.weight()))).toList();
    }

    static List<Edit> decide(List<List<String>> rows) {
        List<Map<String, Object>> items = rows.stream().<Map<String, Object>>map(row -> {
            var item = new HashMap<String, Object>();
            item.putAll(LoadForm.metric(row.get(0)));
            item.put("margin", row.get(1).isBlank() ? "5%" : row.get(1).strip());
            if (!row.get(2).isBlank() && !row.get(2).strip().equals("1")) {
                item.put("weight", number(row.get(2)));
            }
            return item;
        }).toList();
        return List.of(new Edit.Put("question", Map.of("decide", Optional.of(items))));
    }

    /** A number where it is one; what is none is told by the study's own check. */
    private static Object number(String text) {
        try {
            return new BigDecimal(text.strip());
        } catch (NumberFormatException _) {
            return text.strip();
        }
    }

    /** Name and weight of each judged factor. */
    static List<List<String>> factors(Question question) {
        return question.factors().stream().map(one -> List.of(one.name(), plain(one.weight()))).toList();
    }

    /** The scores of a factor stay with its name, or with its place where it was renamed. */
    static List<Edit> judge(Question before, List<List<String>> rows) {
        var items = new ArrayList<Map<String, Object>>();
        for (int i = 0; i < rows.size(); i++) {
            String name = rows.get(i).get(0).strip();
            int place = i;
            Optional<Factor> known = before.factors().stream().filter(one -> one.name().equals(name)).findFirst()
                    .or(() -> before.factors().size() == rows.size()
                            ? Optional.of(before.factors().get(place))
                            : Optional.empty());
            items.add(factor(name, rows.get(i).get(1).isBlank() ? new BigDecimal(1) : number(rows.get(i).get(1)),
                    known.map(Factor::scores).orElse(Map.of())));
        }
        return List.of(new Edit.Put("question",
                Map.of("judge", items.isEmpty() ? Optional.empty() : Optional.of(items))));
    }

    private static Map<String, Object> factor(String name, Object weight, Map<String, Factor.Score> scores) {
        var item = new HashMap<String, Object>();
        item.put("factor", name);
        item.put("weight", weight);
        if (!scores.isEmpty()) {
            var written = new HashMap<String, Object>();
            scores.forEach((id, score) -> written.put(id, Map.of("step", score.step(), "reason", score.reason())));
            item.put("scores", written);
        }
        return item;
    }

    /** The metrics by which a study can be decided, for a row. */
    static List<String> metrics(Study study) {
        return study.metrics().stream().map(Metric::id).toList();
    }
}
