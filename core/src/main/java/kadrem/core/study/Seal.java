package kadrem.core.study;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * What a study promised before its first run: what decides, by which margins, what is required, at which significance, in how many rounds,
 * how it stops, what sets a round aside, and from which seed. It stands in every run, so that what was changed afterwards can be named.
 *
 * @param facts what was promised, by what it is about, both in words
 */
public record Seal(Map<String, String> facts) {
    public Seal {
        facts = Collections.unmodifiableMap(new LinkedHashMap<>(facts));
    }

    public static Seal of(Study study) {
        var facts = new LinkedHashMap<String, String>();
        Question question = study.question();
        question.deciders()
                .forEach(one -> facts.put("margin of " + one.metric().id(), one.margin().words()));
        question.requirements().forEach(one -> facts.put("requirement on " + one.metric().id(),
                (one.metric().higherIsBetter() ? "at least " : "at most ")
                        + Written.value(one.metric().unit(), one.limit())));
        facts.put("significance", Written.significant(question.significance() * 100) + " %");
        Plan plan = study.plan();
        facts.put("rounds",
                plan.isAdaptive() ? "at most " + plan.most() + ", adaptive" : Integer.toString(plan.rounds()));
        facts.put("seed", Long.toString(plan.seed()));
        study.measured().ifPresent(one -> one.load().course().stopRules()
                .forEach(rule -> facts.put("stop rule on " + rule.metric().id(), rule.words())));
        study.judgement().limits().entrySet().stream().sorted(Map.Entry.comparingByKey()).forEach(
                limit -> facts.put("limit of " + limit.getKey().label(), limit.getKey().written(limit.getValue())));
        return new Seal(facts);
    }

    /** What was changed since: "margin of p95 from 5 % to 10 %". */
    public List<String> changesTo(Seal now) {
        var changes = new ArrayList<String>();
        facts.forEach((about, was) -> {
            String is = now.facts.get(about);
            if (is == null) {
                changes.add(about + " taken away, it was " + was);
            } else if (!is.equals(was)) {
                changes.add(about + " from " + was + " to " + is);
            }
        });
        now.facts.forEach((about, is) -> {
            if (!facts.containsKey(about)) {
                changes.add(about + " added, " + is);
            }
        });
        return List.copyOf(changes);
    }
}
