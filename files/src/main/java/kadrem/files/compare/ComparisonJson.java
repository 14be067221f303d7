package kadrem.files.compare;

import java.io.IOException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.NullNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.measure.RunRecord;
import kadrem.core.stats.StudentisedBootstrap;
import kadrem.core.stats.Interval;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.NoiseFloor;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Planning;
import kadrem.core.verdict.QuantileDifferences;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.SecondOpinions;
import kadrem.core.verdict.ValueComparison;
import kadrem.core.verdict.Verdict;
import kadrem.core.verdict.Wording;

/** Comparisons and the verdict as JSON; the schemas are in docs/schemas. */
public final class ComparisonJson {
    private static final ObjectMapper MAPPER = new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

    private ComparisonJson() {
    }

    /**
     * Everything that is seen of a study's comparison and verdict: {@code comparison.schema.json}.
     *
     * @throws IOException if the latencies of a run cannot be read
     */
    public static String write(Results results) throws IOException {
        return write(results.verdict(), results.floor(),
                Distributions.read(results.file().folder(), results.comparison()).differences(results.study()));
    }

    /** Everything that is seen of a comparison and its verdict. */
    private static String write(Verdict verdict, Optional<NoiseFloor> floor, List<QuantileDifferences> quantiles) {
        Comparison comparison = verdict.comparison();
        Question question = comparison.study().question();
        ObjectNode root = MAPPER.createObjectNode();
        root.put("study", comparison.study().name()).put("question", question.text())
                .put("baseline", question.baseline()).put("significance", question.significance())
                .put("seed", comparison.study().plan().seed()).put("standing", Wording.standing(comparison));
        root.putObject("progress").put("measured", comparison.progress().measured())
                .put("planned", comparison.progress().planned()).put("adaptive", comparison.progress().adaptive())
                .put("inProgress", comparison.progress().isEarlyLook()).put("waiting", comparison.progress().waiting())
                .put("significanceOfLook", comparison.progress().look().significance());
        ArrayNode pairs = root.putArray("comparisons");
        var resamples = new HashMap<Integer, StudentisedBootstrap>();
        comparison.pairs().forEach(pair -> {
            ObjectNode node = pair(comparison, pair);
            node.set("secondOpinions", opinions(comparison, pair, resamples));
            ArrayNode values = node.putArray("values");
            pair.points().forEach(point -> values.addObject().put("round", point.round())
                    .put("baseline", point.baseline()).put("candidate", point.candidate()));
            pairs.add(node);
        });
        ArrayNode together = root.putArray("together");
        for (Metric metric : Comparison.metrics(comparison.study())) {
            comparison.together(metric).ifPresent(test -> together.addObject().put("metric", metric.id())
                    .put("method", "Friedman").put("chiSquared", test.chiSquared()).put("degrees", test.degrees())
                    .put("p", test.p()));
        }
        ArrayNode calls = root.putArray("byCall");
        Comparison.OF_CALLS.forEach(metric -> comparison.byCall(metric)
                .forEach(pair -> calls.add(pair(comparison, pair))));
        ArrayNode distributions = root.putArray("quantileDifferences");
        quantiles.forEach(one -> distributions.add(quantiles(one)));
        ArrayNode planning = root.putArray("planning");
        question.deciders()
                .forEach(decider -> planning
                        .add(plan(Planning.of(comparison.study(), decider.metric(), comparison, floor))));
        floor.ifPresent(one -> root.set("noiseFloor", floor(one)));
        ArrayNode runs = root.putArray("runs");
        comparison.inOrder().forEach(run -> runs.add(run(Comparison.metrics(comparison.study()), run)));
        root.set("verdict", verdict(verdict));
        ArrayNode leftOut = root.putArray("leftOut");
        comparison.leftOut().forEach(run -> leftOut.add(run.sentence()));
        ArrayNode outcomes = root.putArray("outcomes");
        comparison.outcomes().forEach(run -> outcomes.add(run.sentence()));
        ObjectNode aside = root.putObject("setAside");
        comparison.setAside().rounds().forEach(aside.putArray("rounds")::add);
        comparison.setAside().sentences().forEach(aside.putArray("sentences")::add);
        comparison.setAside().blindness().ifPresentOrElse(p -> aside.put("blindness", p),
                () -> aside.putNull("blindness"));
        comparison.otherwiseWithAll().forEach(aside.putArray("otherwiseWithThem")::add);
        ArrayNode judged = root.putArray("judgedOtherwise");
        comparison.judgedOtherwise().forEach(judged::add);
        return text(root);
    }

    private static String text(ObjectNode root) {
        try {
            return MAPPER.writeValueAsString(bounded(root));
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** JSON has no infinity: a figure is null where it is without bound, since a percentile was not reached or the candidate ended the run itself. */
    private static JsonNode bounded(JsonNode node) {
        if (node instanceof ObjectNode object) {
            object.properties().forEach(one -> one.setValue(bounded(one.getValue())));
        } else if (node instanceof ArrayNode array) {
            for (int i = 0; i < array.size(); i++) {
                array.set(i, bounded(array.get(i)));
            }
        }
        return node.isDouble() && !Double.isFinite(node.doubleValue()) ? NullNode.getInstance() : node;
    }

    private static ObjectNode interval(ObjectNode node, Optional<Interval> interval) {
        interval.ifPresentOrElse(
                one -> node.put("low", one.low()).put("high", one.high()).put("achievedConfidence",
                        one.achievedConfidence()),
                () -> node.putNull("low").putNull("high").putNull("achievedConfidence"));
        return node;
    }

    private static ObjectNode pair(Comparison comparison, PairComparison pair) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("metric", pair.metric().id());
        if (!pair.call().isEmpty()) {
            node.put("call", pair.call());
        }
        node.put("deciding", pair.deciding()).put("baseline", pair.baseline())
                .put("candidate", pair.candidate()).put("rounds", pair.rounds())
                .put("scale", pair.metric().scale().id());
        node.put("estimate", pair.estimate());
        interval(node, pair.interval());
        node.put("method", pair.test().method()).put("p", pair.p())
                .put("adjustedP", pair.adjustedP()).put("adjustedOver", pair.family())
                .put("margin", pair.margin().size())
                .put("outcome", pair.outcome().id())
                .put("sentence", Wording.finding(comparison.study(), pair) + ": " + Wording.outcome(pair) + ".");
        return node;
    }

    private static ObjectNode opinions(Comparison comparison, PairComparison pair,
            Map<Integer, StudentisedBootstrap> resamples) {
        ObjectNode node = MAPPER.createObjectNode();
        SecondOpinions opinions = SecondOpinions.of(pair,
                resamples.computeIfAbsent(pair.rounds(),
                        rounds -> StudentisedBootstrap.of(rounds, comparison.study().plan().seed())),
                comparison.study().question().significance());
        opinions.t().filter(one -> Double.isFinite(one.t())).ifPresent(one -> interval(node.putObject("pairedT")
                .put("t", one.t()).put("p", one.p()), opinions.tInterval()));
        opinions.bootstrap()
                .ifPresent(one -> interval(node.putObject("bootstrap").put("draws", StudentisedBootstrap.DRAWS),
                        opinions.bootstrap()));
        ArrayNode disagreements = node.putArray("disagreements");
        opinions.disagreements().forEach(disagreements::add);
        return node;
    }

    private static ObjectNode quantiles(QuantileDifferences one) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("baseline", one.baseline()).put("candidate", one.candidate()).put("rounds", one.rounds())
                .put("words", one.words());
        ArrayNode at = node.putArray("at");
        one.at().forEach(point -> interval(
                at.addObject().put("percentile", point.percentile()).put("ratio", point.ratio()), point.band()));
        return node;
    }

    private static ObjectNode plan(Planning plan) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("metric", plan.metric().id()).put("margin", plan.margin().size()).put("noise", plan.noise().sd())
                .put("noiseFrom", plan.noise().words(plan.metric())).put("power", Planning.POWER)
                .put("fewestRounds", plan.fewest());
        plan.roundsForMargin().ifPresentOrElse(rounds -> node.put("roundsForMargin", rounds),
                () -> node.putNull("roundsForMargin"));
        return node;
    }

    private static ObjectNode floor(NoiseFloor floor) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("candidate", floor.candidate()).put("rounds", floor.rounds());
        ArrayNode metrics = node.putArray("metrics");
        floor.floors().forEach(one -> interval(
                metrics.addObject().put("metric", one.metric().id()).put("floor", one.size()),
                Optional.of(one.interval())));
        return node;
    }

    private static ObjectNode run(List<Metric> metrics, RunRecord run) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("id", run.id()).put("round", run.round()).put("position", run.identity().position())
                .put("candidate", run.candidate()).put("started", run.started().toString());
        ObjectNode values = node.putObject("values");
        for (Metric metric : metrics) {
            run.value(metric).ifPresent(value -> values.put(metric.id(), value));
        }
        return node;
    }

    /** The verdict alone, as it is inside the comparison. */
    public static String write(Verdict verdict) {
        return text(verdict(verdict));
    }

    private static ObjectNode verdict(Verdict verdict) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("kind", verdict.kind().id()).put("paragraph", verdict.paragraph());
        ArrayNode chosen = node.putArray("chosen");
        verdict.chosen().forEach(chosen::add);
        ArrayNode requirements = node.putArray("requirements");
        verdict.requirements().forEach(one -> {
            ObjectNode requirement = interval(requirements.addObject().put("metric", one.requirement().metric().id())
                    .put("limit", one.requirement().limit()).put("candidate", one.candidate())
                    .put("answer", one.answer().words()).put("runs", one.values().size()), one.bounds());
            one.estimate().ifPresent(estimate -> requirement.put("estimate", estimate));
            one.nextKept().ifPresent(next -> requirement.putObject("next").put("runs", RequirementResult.NEXT)
                    .put("kept", one.kept()).put("atLeast", next));
        });
        ArrayNode weights = node.putArray("weights");
        verdict.preference().ifPresent(preference -> preference.criteria()
                .forEach(one -> weights.addObject().put("name", one.name()).put("weight", one.weight())));
        ArrayNode ranking = node.putArray("ranking");
        verdict.ranking().forEach(place -> ranking.addObject().put("candidate", place.candidate())
                .put("worth", place.worth()).put("firstInResamples", place.shareOfResamples())
                .put("firstOfWeights", place.shareOfWeights()).put("unbeaten", place.unbeaten()));
        ArrayNode notShown = node.putArray("notShown");
        verdict.notShown().forEach(notShown::add);
        return node;
    }

    /** A comparison of values measured elsewhere: {@code values.schema.json}. */
    public static String write(ValueComparison comparison) {
        ObjectNode root = MAPPER.createObjectNode();
        root.put("baseline", comparison.asked().baseline()).put("significance", comparison.asked().significance())
                .put("margin", comparison.asked().margin())
                .put("higherIsBetter", comparison.asked().higherIsBetter())
                .put("scale", comparison.scale().id());
        ArrayNode pairs = root.putArray("comparisons");
        for (ValueComparison.Pair pair : comparison.pairs()) {
            ObjectNode node = pairs.addObject().put("baseline", pair.baseline()).put("candidate", pair.candidate())
                    .put("paired", pair.paired()).put("baselineRuns", pair.values().getFirst().size())
                    .put("candidateRuns", pair.values().getLast().size()).put("estimate", pair.estimate());
            interval(node, pair.interval());
            node.put("p", pair.p()).put("adjustedP", pair.adjustedP());
            pair.delta().ifPresent(delta -> node.put("cliffsDelta", delta));
            node.put("outcome", pair.outcome().id());
        }
        return text(root);
    }
}
