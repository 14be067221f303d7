package kadrem.files.report;

import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Soundness;
import kadrem.core.study.Candidate;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.study.Written;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.SittingTable;
import kadrem.core.verdict.Wording;
import kadrem.figures.Mark;
import kadrem.files.compare.Distributions;
import kadrem.files.compare.Results;

/**
 * What stands in a report, section by section, in the order in which a reader asks; one file, since its sections are read in one go.
 */
final class ReportContent {
    static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMMM yyyy, HH:mm 'UTC'", Locale.ENGLISH)
            .withZone(ZoneOffset.UTC);

    private static final List<String> COLUMNS = List.of("metric", "candidate", "against", "rounds", "change",
            "interval",
            "confidence", "p", "adjusted p", "outcome");

    private final Results results;
    private final Study study;
    private final Comparison comparison;
    private final Optional<Distributions> distributions;
    private final ReportFigures figures;
    private final Instant made;

    ReportContent(Results results, Optional<Distributions> distributions, Instant made) {
        this.results = results;
        study = results.study();
        comparison = results.comparison();
        this.distributions = distributions;
        figures = new ReportFigures(results);
        this.made = made;
    }

    void write(Page body) {
        Page top = body.within("header");
        top.at().appendElement("p").attr("class", "kind").text("Kadrem study");
        top.at().appendElement("h1").text(Shown.text(study.name()));
        top.at().appendElement("p").attr("class", "question").text(Shown.text(study.question().text()));
        top.note(measured() + " Report made on " + DAY.format(made) + ".");
        contents(body);
        Page main = body.within("main");
        verdict(main.section("verdict", "Verdict"));
        question(main.section("question", "What was asked"));
        compared(main.section("comparison", "Comparison"));
        candidates(main.section("candidates", "Results of each candidate"));
        soundness(main.section("soundness", "Soundness"));
        new ReportSetUp(results).write(main);
    }

    private static void contents(Page body) {
        var nav = body.at().appendElement("nav").attr("aria-label", "contents");
        for (String[] one : new String[][]{{"verdict", "Verdict"}, {"question", "What was asked"},
                {"comparison", "Comparison"}, {"candidates", "Candidates"}, {"soundness", "Soundness"},
                {"set-up", "Set-up"}, {"alike", "Like for like"}, {"methods", "Methods"}, {"repeat", "Repeat"}}) {
            nav.appendElement("a").attr("href", "#" + one[0]).text(one[1]);
        }
    }

    private String measured() {
        List<Instant> days = results.runs().stream().map(RunRecord::started).sorted().toList();
        if (study instanceof FigureStudy) {
            return "Figures measured elsewhere.";
        }
        return days.isEmpty()
                ? "Nothing was measured yet."
                : results.runs().size() + " runs, measured from " + DAY.format(days.getFirst()) + " to "
                        + DAY.format(days.getLast()) + ".";
    }

    private void verdict(Page page) {
        page.at().appendElement("p").attr("class", "recommendation").text(Shown.text(results.verdict().paragraph()));
        SittingTable sittings = SittingTable.of(comparison);
        if (sittings.hasSeveral()) {
            page.table("Sittings side by side",
                    Stream.concat(Stream.of("what decides"), sittings.sittings().stream()).toList(),
                    sittings.rows().stream().map(row -> Stream.concat(Stream.of(row.words()), row.cells().stream())
                            .map(Page.Cell::of).toList()).toList());
        }
        if (!results.verdict().requirements().isEmpty()) {
            Set<String> words = new LinkedHashSet<>();
            results.verdict().requirements().forEach(one -> words.add(RequirementResult.words(one.requirement())));
            List<String> head = new ArrayList<>(List.of("candidate"));
            head.addAll(words);
            page.table("Requirements", head, study.candidates().stream().map(candidate -> {
                List<Page.Cell> row = new ArrayList<>(List.of(candidate(candidate.id())));
                results.verdict().requirements().stream().filter(one -> one.candidate().equals(candidate.id()))
                        .forEach(one -> row.add(Page.Cell.of(one.sentenceWithNext())
                                .styled(one.answer().words().replace(' ', '-'))));
                return row;
            }).toList());
        }
        if (!results.verdict().ranking().isEmpty()) {
            page.table("Preference at the weights of the study",
                    List.of("candidate", "worth, best possible 1", "first in resampled rounds", "first of all weights",
                            "beaten by none in everything"),
                    results.verdict().ranking().stream().map(place -> List.of(
                            candidate(place.candidate()),
                            Page.Cell.number(String.format(Locale.ROOT, "%.3f", place.worth()), place.worth()),
                            Page.Cell.number(Written.share(place.shareOfResamples()), place.shareOfResamples()),
                            Page.Cell.number(Written.share(place.shareOfWeights()), place.shareOfWeights()),
                            Page.Cell.of(place.unbeaten() ? "yes" : "no"))).toList());
        }
        if (!results.verdict().notShown().isEmpty()) {
            page.heading("What was not shown").list(results.verdict().notShown());
        }
    }

    private void question(Page page) {
        Question question = study.question();
        page.paragraph(question.text());
        if (!question.deciders().isEmpty()) {
            page.table("What decides, most important first", List.of("metric", "better", "margin", "weight"),
                    question.deciders().stream().map(decider -> List.of(Page.Cell.of(decider.metric().label()),
                            Page.Cell.of(decider.metric().higherIsBetter() ? "higher" : "lower"),
                            Page.Cell.number(decider.margin().words(), decider.margin().size()),
                            Page.Cell.number(Written.significant(decider.weight()), decider.weight()))).toList());
        }
        page.note(study.candidate(question.baseline()).map(one -> "Baseline: " + one.name() + ". ").orElse("")
                + "A difference is called settled where there is none with a probability of at most "
                + Written.share(question.significance()) + " over all pairs and deciding metrics together.");
        if (!question.factors().isEmpty()) {
            var rows = new ArrayList<List<Page.Cell>>();
            question.factors().forEach(factor -> study.candidates().forEach(candidate -> Optional
                    .ofNullable(factor.scores().get(candidate.id()))
                    .ifPresent(score -> rows.add(List.of(Page.Cell.of(factor.name()),
                            Page.Cell.number(Written.significant(factor.weight()), factor.weight()),
                            candidate(candidate.id()), Page.Cell.number(score.words(), score.step()),
                            Page.Cell.of(score.reason()))))));
            page.table("What was judged", List.of("factor", "weight", "candidate", "judged to be", "reason"), rows);
        }
    }

    private void compared(Page page) {
        if (comparison.pairs().isEmpty()) {
            page.paragraph("There are no two candidates with a complete and sound run in the same round.");
            return;
        }
        page.paragraph(Wording.standing(comparison));
        for (Question.Decider decider : study.question().deciders()) {
            List<PairComparison> pairs = Wording.answerFirst(study, comparison.on(decider.metric()));
            if (!pairs.isEmpty()) {
                page.heading(decider.metric().label());
                page.list(pairs.stream().map(pair -> Wording.finding(study, pair) + ": " + Wording.outcome(pair) + ".")
                        .toList());
                figures.ofMetric(page, decider.metric(), pairs);
                pairs.forEach(pair -> page.folded("Why: " + named(pair.candidate()) + " against "
                        + named(pair.baseline()),
                        inside -> why(inside, Explanation.of(comparison, pair,
                                results.floor()))));
            }
        }
        page.heading("All metrics");
        page.table("Each pair on each metric; * decides",
                COLUMNS,
                comparison.pairs().stream().map(this::row).toList());
        page.note(
                "p is the exact signed-rank probability. Interval and outcome have the confidence that all that is said"
                        + " together leaves them; a metric that does not decide is a hint beside the decision.");
        byCall(page);
        distributions.ifPresent(all -> figures.distributions(page, all));
        figures.ladders(page);
        figures.costAndOrder(page);
    }

    /** Where there are several calls. */
    private void byCall(Page page) {
        List<PairComparison> pairs = study.question().deciders().stream()
                .flatMap(decider -> comparison.byCall(decider.metric()).stream()).toList();
        if (pairs.stream().map(PairComparison::call).distinct().count() < 2) {
            return;
        }
        List<String> head = new ArrayList<>(List.of("call"));
        head.addAll(COLUMNS);
        page.folded("Call by call (" + pairs.size() + " comparisons)", inside -> {
            inside.note(pairs.size()
                    + " comparisons at once: p is adjusted over all calls and pairs of a metric, and a"
                    + " call that stands out should be asked about in a study of its own.");
            inside.table("Each pair on each deciding metric, call by call", head, pairs.stream().map(pair -> {
                List<Page.Cell> row = new ArrayList<>(List.of(Page.Cell.of(pair.call())));
                row.addAll(row(pair));
                return row;
            }).toList());
        });
    }

    private List<Page.Cell> row(PairComparison pair) {
        return List.of(Page.Cell.of(pair.metric().label() + (pair.deciding() ? " *" : "")),
                candidate(pair.candidate()), candidate(pair.baseline()),
                Page.Cell.number(Integer.toString(pair.rounds()), pair.rounds()),
                Page.Cell.number(Wording.change(pair.metric(), pair.estimate()), pair.estimate()).styled(""),
                Page.Cell.of(pair.interval().map(i -> Wording.interval(pair.metric(), i)).orElse("too few rounds")),
                pair.interval()
                        .map(i -> Page.Cell.number(Written.share(i.achievedConfidence()), i.achievedConfidence()))
                        .orElse(Page.Cell.of("")),
                Page.Cell.number(probability(pair.p()), pair.p()),
                Page.Cell.number(probability(pair.adjustedP()), pair.adjustedP()),
                Page.Cell.of(pair.words()).styled(pair.outcome().isSettled() ? "settled" : "open"));
    }

    private static void why(Page page, Explanation explanation) {
        explanation.parts().forEach(part -> {
            page.at().appendElement("h4").text(part.heading());
            page.at().appendElement("p").attr("class", "lines").text(Shown.text(part.text()));
        });
    }

    private void candidates(Page page) {
        List<Metric> metrics = Comparison.metrics(study);
        List<String> head = new ArrayList<>(List.of("candidate", "runs"));
        metrics.forEach(metric -> head.add(metric.label()));
        page.table("Median of the runs that entered, smallest to largest in brackets", head,
                study.candidates().stream().map(candidate -> {
                    List<Page.Cell> row = new ArrayList<>(List.of(candidate(candidate.id()),
                            Page.Cell.of(Integer.toString(
                                    comparison.entered().getOrDefault(candidate.id(), Map.of()).size()))));
                    metrics.forEach(metric -> row.add(middle(metric, comparison.values(metric, candidate.id()).values()
                            .stream().mapToDouble(Double::doubleValue).sorted().toArray())));
                    return row;
                }).toList());
        List<String> columns = new ArrayList<>(List.of("round", "candidate", "order", "outcome"));
        metrics.forEach(metric -> columns.add(metric.label()));
        page.foldedAndLong("Every run (" + results.runs().size() + ")", inside -> inside.table("Every run", columns,
                results.runs().stream().map(run -> {
                    List<Page.Cell> row = new ArrayList<>(List.of(
                            Page.Cell.number(Integer.toString(run.round()), run.round()),
                            candidate(run.candidate()),
                            Page.Cell.number(Integer.toString(run.identity().position()), run.identity().position()),
                            Page.Cell.of(state(run)).styled(run.isResult() ? "" : "open")));
                    metrics.forEach(metric -> row.add(run.value(metric).stream()
                            .mapToObj(value -> Page.Cell.number(Written.value(metric.unit(), value), value))
                            .findFirst().orElse(Page.Cell.of("–"))));
                    return row;
                }).toList()));
    }

    private static Page.Cell middle(Metric metric, double[] ascending) {
        if (ascending.length == 0) {
            return Page.Cell.of("–");
        }
        double median = (ascending[(ascending.length - 1) / 2] + ascending[ascending.length / 2]) / 2;
        return Page.Cell.number(Written.value(metric.unit(), median) + " ("
                + Written.value(metric.unit(), ascending[0]) + " to "
                + Written.value(metric.unit(), ascending[ascending.length - 1]) + ")", median).styled("");
    }

    private static String state(RunRecord run) {
        return switch (run.outcome()) {
            case COMPLETE -> run.isSound() ? "counted" : "disturbed";
            case DIED -> "died";
            case DID_NOT_START -> "did not start";
            case NO_LEVEL -> "could not take the load";
            case FAILED -> "could not be made";
            case ENDED_BY_RULE -> "ended by a stop rule";
            case STOPPED -> "stopped";
            case CUT_OFF -> "cut off";
            case RUNNING -> "running";
        };
    }

    private void soundness(Page page) {
        List<Comparison.LeftOut> out = comparison.leftOut();
        List<Comparison.LeftOut> outcomes = comparison.outcomes();
        if (!outcomes.isEmpty()) {
            page.paragraph("Runs that a candidate ended itself, which count as worse than any figure:");
            page.list(outcomes.stream().map(Comparison.LeftOut::sentence).toList());
        }
        if (!comparison.setAside().rounds().isEmpty()) {
            page.paragraph("Rounds that were set aside for all candidates, since something else was measured in them:");
            page.list(comparison.setAside().sentences());
            comparison.setAside().blindness().ifPresent(p -> page.note(
                    "That disturbances fall on the candidates so unevenly by chance alone has probability "
                            + probability(p)
                            + " (exact multinomial test)."));
            List<String> otherwise = comparison.otherwiseWithAll();
            page.paragraph(otherwise.isEmpty() ? "With these rounds the same would be said." : "With these rounds:");
            page.list(otherwise);
        }
        page.paragraph(out.isEmpty()
                ? "Every run enters the comparison."
                : out.size() + " of " + results.runs().size() + " runs do not enter the comparison:");
        page.list(out.stream().map(Comparison.LeftOut::sentence).toList());
        if (!comparison.judgedOtherwise().isEmpty()) {
            page.heading("Judged otherwise than usual").list(comparison.judgedOtherwise());
        }
        results.floor().ifPresent(floor -> {
            page.heading("Noise floor");
            page.paragraph(study.candidate(floor.candidate()).map(Candidate::name).orElse(floor.candidate())
                    + " measured against itself over " + floor.rounds() + " rounds:");
            page.list(floor.floors().stream().map(one -> one.metric().label() + ": up to "
                    + one.metric().scale().words(one.size())).toList());
            page.list(floor.marginsBelow(study.question()));
        });
        List<RunRecord> judged = results.runs().stream().filter(run -> !run.soundness().isEmpty()).toList();
        if (!judged.isEmpty()) {
            var rows = new ArrayList<List<Page.Cell>>();
            judged.forEach(run -> run.soundness().forEach(finding -> rows.add(finding(run, finding))));
            page.foldedAndLong("What was looked at in each run (" + judged.size() + ")", inside -> inside.table(
                    "Figures and limits of soundness", List.of("run", "rule", "answer", "finding"), rows));
        }
    }

    private static List<Page.Cell> finding(RunRecord run, Soundness.Finding finding) {
        return List.of(Page.Cell.of("round " + run.round() + ", " + run.candidate()), Page.Cell.of(finding.rule()),
                Page.Cell.of(finding.ok() ? "sound" : "unsound").styled(finding.ok() ? "" : "open"),
                Page.Cell.of(finding.sentence()));
    }

    private Page.Cell candidate(String id) {
        int index = study.indexOf(id);
        return index < 0 ? Page.Cell.of(id) : Page.Cell.of(new Mark(index), named(id));
    }

    private String named(String id) {
        return named(study, id);
    }

    /** A candidate's letter and name. */
    static String named(Study study, String id) {
        int index = study.indexOf(id);
        return index < 0 ? id : new Mark(index).letter() + " " + study.candidates().get(index).name();
    }

    private static String probability(double p) {
        return p < 0.0001 ? "< 0.0001" : String.format(Locale.ROOT, "%.4f", p);
    }
}
