package kadrem.files.compare;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.study.Metric;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Wording;

/** A comparison as JSON; the schema is docs/schemas/comparison.schema.json. */
public final class ComparisonJson {
    private static final ObjectMapper MAPPER = new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

    private ComparisonJson() {
    }

    public static String write(Comparison comparison) {
        ObjectNode root = MAPPER.createObjectNode();
        root.put("study", comparison.study().name());
        root.put("question", comparison.study().question().text());
        root.put("baseline", comparison.study().question().baseline());
        root.put("significance", comparison.study().question().significance());
        root.put("standing", Wording.standing(comparison));
        ArrayNode pairs = root.putArray("comparisons");
        comparison.pairs().forEach(pair -> pairs.add(pair(comparison, pair)));
        ArrayNode leftOut = root.putArray("leftOut");
        comparison.leftOut().forEach(run -> leftOut.add(run.sentence()));
        ArrayNode judged = root.putArray("judgedOtherwise");
        comparison.judgedOtherwise().forEach(judged::add);
        try {
            return MAPPER.writeValueAsString(root);
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    private static ObjectNode pair(Comparison comparison, PairComparison pair) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("metric", pair.metric().id()).put("deciding", pair.deciding()).put("baseline", pair.baseline())
                .put("candidate", pair.candidate()).put("rounds", pair.rounds())
                .put("scale", pair.metric().scale() == Metric.Scale.RATIO ? "ratio" : "difference")
                .put("estimate", pair.estimate());
        pair.interval().ifPresentOrElse(
                interval -> node.put("low", interval.low()).put("high", interval.high()).put("achievedConfidence",
                        interval.achievedConfidence()),
                () -> node.putNull("low").putNull("high").putNull("achievedConfidence"));
        node.put("p", pair.p()).put("adjustedP", pair.adjustedP()).put("margin", pair.margin())
                .put("outcome", pair.outcome().id())
                .put("sentence", Wording.finding(comparison.study(), pair) + ": " + Wording.outcome(pair) + ".");
        ArrayNode values = node.putArray("values");
        pair.points().forEach(point -> values.addObject().put("round", point.round()).put("baseline", point.baseline())
                .put("candidate", point.candidate()));
        return node;
    }
}
