package kadrem.core.check;

import static kadrem.core.study.grammar.Field.choice;
import static kadrem.core.study.grammar.Field.group;
import static kadrem.core.study.grammar.Field.groups;
import static kadrem.core.study.grammar.Field.line;
import static kadrem.core.study.grammar.Field.named;
import static kadrem.core.study.grammar.Field.number;
import static kadrem.core.study.grammar.Field.oneOf;
import static kadrem.core.study.grammar.Field.share;
import static kadrem.core.study.grammar.Field.someGroups;
import static kadrem.core.study.grammar.Field.texts;
import static kadrem.core.study.grammar.Field.time;
import static kadrem.core.study.grammar.Field.whole;

import java.time.Duration;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

import kadrem.core.study.Factor;
import kadrem.core.study.Metric;
import kadrem.core.study.Pacing;
import kadrem.core.study.Protocol;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Grammar;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;

/**
 * Every field of a study file: its name, how it is written, what it may be, what holds where it is left out, and what it is for.
 * Reader, schema, tables of the documentation and forms of the window all have it from here.
 */
public final class StudyGrammar {

    private static final double ABOVE_NOTHING = Math.nextUp(0.0);
    private static final Duration NO_TIME = Duration.ZERO;
    private static final Duration HOUR = Duration.ofHours(1);
    private static final Duration DAY = Duration.ofDays(1);

    private static final Optional<Kind.Form> JSON_PATH = Optional
            .of(new Kind.Form("\\$.*", "Begin a JSONPath with $, such as $..updatedAt."));

    private StudyGrammar() {
    }

    /** The grammar of a study whose figures Kadrem measures. */
    public static Grammar measured(Collection<Protocol> protocols) {
        return new Grammar(Group.of("a study", format(), name(), group("question", question(), "(text and decide)"),
                group("signIn", CandidateGrammar.signIn(), "{bearer: \"{{env:TOKEN}}\"}"),
                group("wire", CandidateGrammar.wire(), "{protocol: http/2}"),
                someGroups("candidates", CandidateGrammar.candidate(protocols), "(a list of candidates)"),
                texts("intendedDifferences", "attributes in which candidates are meant to differ", false, "launch"),
                group("workload", WorkloadGrammar.workload(protocols), "(a group with visits)").needed(),
                group("load", LoadGrammar.load(), "(a group with model, measured and more)").needed(),
                group("plan", plan(), "{rounds: 7}"), group("soundness", soundness(), "{limits: {late: 10%}}"),
                groups("annotations", annotation(), "{run: a1b2c3d4, second: 12, text: the backup began}"),
                group("rehearsal", rehearsal(), "{ignoreHeaders: [ETag]}")));
    }

    /** The grammar of a study whose figures were measured elsewhere. */
    public static Grammar ofFigures() {
        return new Grammar(Group.of("a study of figures that were measured elsewhere", format(), name(),
                group("question", question(), "(text and decide)"),
                someGroups("candidates", Group.of("what the figures are of",
                        line("id", "as the file with the figures has it", "pool",
                                "[\\p{L}\\p{N}][\\p{L}\\p{N} ._+-]{0,59}",
                                "Use up to 60 letters, digits, spaces and . _ + -, as in the file with its figures.")
                                .needed(),
                        line("name", "what people call it", "Thread pool")), "(a list of candidates)"),
                someGroups("figures", Group.of("a table of figures",
                        line("file", "CSV file, seen from the study", "figures/p99.csv").needed(),
                        metric(Metric.all(), "p99").needed(),
                        line("unit", "of the figures in the file", "ms")), "{file: figures/p99.csv, metric: p99}"),
                group("soundness", soundness(), "{limits: {late: 10%}}"),
                group("plan", plan(), "{rounds: 7}")));
    }

    private static Field format() {
        return line("kadrem", "format of the file", "1", "1", "This Kadrem reads studies of format 1.").needed();
    }

    private static Field name() {
        return line("name", "name of the study", "Harbour berth board").needed();
    }

    // ---- question ---------------------------------------------------------------------------------------------------

    static Field metric(Collection<Metric> metrics, String example) {
        return oneOf("metric", "which figure", metrics.stream().map(Metric::id).toList(), example);
    }

    /** Of which crowd or call a metric is. */
    private static Field part() {
        return line("of", "the crowd or the call that it is of", "readers").otherwise("all calls");
    }

    private static Field weight() {
        return number("weight", "beside the other metrics and factors", 0, 1000, "2").usually("1");
    }

    private static Group question() {
        Group decide = Group.of("metrics that decide, most important first",
                metric(Metric.all(), "p99").needed(), part(),
                share("margin",
                        "smallest difference that would matter", 0, 10, "5%")
                        .otherwise("5 %, of the error share 0.1 points"),
                weight());
        Group require = Group.of("what a candidate must meet", metric(Metric.all(), "p99").needed(), part(),
                line("limit", "in the metric's own unit; memory in MiB", "200ms").needed());
        Group score = Group.of("scores by the ids of candidates",
                whole("step", "from 1, " + Factor.SCALE.getFirst() + ", to " + Factor.SCALE.size() + ", "
                        + Factor.SCALE.getLast(), 1, Factor.SCALE.size(), "4").needed(),
                line("reason", "why", "we run two of these").needed());
        Group judge = Group.of("what counts and cannot be measured",
                line("factor", "what it is", "operation").needed(), weight(),
                named("scores", score, "{pool: {step: 4, reason: we run two of these}}"));
        return Group.of("what is to be decided",
                line("text", "the decision in a sentence", "Which implementation do we run next season?").needed(),
                line("baseline", "id of the candidate that the others are compared with", "pool")
                        .otherwise("the first"),
                share("significance", "accepted probability of calling a difference settled where there is none",
                        ABOVE_NOTHING, Math.nextDown(0.5), "0.05").usually("0.05"),
                someGroups("decide", decide, "{metric: p99, margin: 5%}"),
                groups("require", require, "{metric: p99, limit: 200ms}"),
                groups("judge", judge, "{factor: operation}"));
    }

    // ---- plan and judgement -----------------------------------------------------------------------------------------

    private static Group plan() {
        return Group.of("how often, and in which order",
                whole("rounds", "planned rounds; each measures every candidate once", 1, 1000, "7").usually("7"),
                whole("seed", "fixes the orders and everything that is sent", "1").usually("1"),
                time("pause", "time between two runs", NO_TIME, DAY, "1s").usually("1s"),
                time("idle",
                        "time before each run in which the hosts are watched at rest; from 3s on it is compared with",
                        NO_TIME, DAY, "5s").usually("5s"),
                choice("order", "of the candidates of a round; together on hosts of their own", "in-turn", "together"),
                group("adaptive", Group.of("rounds are added until every deciding pair is settled",
                        whole("atMost", "most rounds", 1, 1000, "30").needed()), "{atMost: 30}"),
                oneOf("pacing", "how the generator waits",
                        Arrays.stream(Pacing.values()).map(Pacing::id).toList(), "exact")
                        .otherwise("what fits the host"));
    }

    private static Field limit(SoundnessRule rule) {
        String words = (rule.setsAside(true) ? "sets a round aside" : "a finding") + "; usually "
                + rule.written(rule.usualLimit());
        return switch (rule.unit()) {
            case MILLISECONDS -> time(rule.id(), words, NO_TIME, HOUR, "5ms");
            case SECONDS -> time(rule.id(), words, NO_TIME, DAY, "20s");
            case SHARE -> share(rule.id(), words, 0, 1000, "10%");
            case COUNT -> number(rule.id(), words, 0, Double.MAX_VALUE, "50");
        };
    }

    private static Group soundness() {
        Group limits = new Group("limits other than the usual ones; a limit on the host asks for quiet",
                Arrays.stream(SoundnessRule.values()).map(StudyGrammar::limit).toList(), List.of(), false);
        return Group.of("how strictly runs are judged", group("limits", limits, "{late: 10%}"),
                groups("leftOut", Group.of("rounds that enter no comparison; others take their place",
                        whole("round", "its number", 1, Integer.MAX_VALUE, "3").needed(),
                        line("reason", "why", "the backup ran in it").needed()),
                        "{round: 3, reason: the backup ran in it}"),
                groups("takenIn", Group.of("disturbed runs that count all the same",
                        line("run", "its id", "a1b2c3d4").needed(),
                        line("reason", "why", "the burst was in the first second only").needed()),
                        "{run: a1b2c3d4, reason: …}"));
    }

    private static Group annotation() {
        return Group.of("what was noted of moments of runs", line("run", "its id", "a1b2c3d4").needed(),
                whole("second", "of the run", 0, Integer.MAX_VALUE, "12").needed(),
                line("text", "what was noted", "the backup began").needed());
    }

    private static Group rehearsal() {
        return Group.of("when two answers count as the same",
                texts("ignoreHeaders", "headers that may differ", false, "ETag"),
                Field.of("ignoreJson", new Kind.Texts(false, false, JSON_PATH), "JSONPaths that may differ", "",
                        "$..updatedAt"),
                share("tolerance", "between numbers", 0, Math.nextDown(1.0), "0.1%").usually("0%"),
                choice("arrays", "whether the order of an array counts", "in-order", "as-sets"),
                groups("accepted", Group.of("differences that were looked at and accepted",
                        line("call", "name of the call", "reserve").needed(),
                        line("where", "place in the answer", "$.id").needed(),
                        line("reason", "why", "each database counts by itself").needed()),
                        "{call: reserve, where: $.id, reason: each database counts by itself}"));
    }
}
