package kadrem.files.report;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;

import kadrem.core.plan.LoadDigest;
import kadrem.core.rehearsal.Difference;
import kadrem.core.study.Agreement;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Study;
import kadrem.files.compare.Results;

/** The part of a report that says how it was measured: set-up, likeness, methods, and how to repeat it. */
final class ReportSetUp {
    private final Results results;
    private final Study study;

    ReportSetUp(Results results) {
        this.results = results;
        study = results.study();
    }

    void write(Page main) {
        setUp(main.section("set-up", "Set-up"));
        alike(main.section("alike", "Like for like"));
        methods(main.section("methods", "Methods"));
        repeat(main.section("repeat", "How to repeat it"));
    }

    private void setUp(Page page) {
        SetUp setUp = new SetUp(study, results.runs());
        page.table("Candidates", head(), setUp.candidates().entrySet().stream().map(this::attribute).toList());
        if (!setUp.fingerprints().isEmpty()) {
            page.table("What was really measured, as it was found during the runs", head(),
                    setUp.fingerprints().entrySet().stream().map(this::attribute).toList());
        }
        if (!setUp.machine().isEmpty()) {
            page.heading("Where it was measured").list(setUp.machine());
        }
        study.measured().ifPresent(measured -> {
            page.heading("What was sent").list(SetUp.workload(measured));
            page.list(List.of(SetUp.load(measured), setUp.plan()));
        });
    }

    private List<String> head() {
        List<String> head = new ArrayList<>(List.of(""));
        study.candidates().forEach(candidate -> head.add(ReportContent.named(study, candidate.id())));
        return head;
    }

    private List<Page.Cell> attribute(Map.Entry<String, List<String>> entry) {
        boolean differs = entry.getValue().stream().distinct().count() > 1;
        List<Page.Cell> row = new ArrayList<>(List.of(Page.Cell.of(entry.getKey())));
        entry.getValue().forEach(text -> row.add(Page.Cell.of(text).styled(differs ? "differs" : "")));
        return row;
    }

    private void alike(Page page) {
        List<String> differing = new SetUp(study, results.runs()).differing();
        List<String> meant = differing.stream().filter(study.intended()::contains).toList();
        List<String> other = differing.stream().filter(name -> !study.intended().contains(name)).toList();
        page.paragraph(differing.isEmpty()
                ? "The candidates differ in nothing that is known."
                : "The candidates differ in "
                        + (meant.isEmpty()
                                ? "nothing that is said to be meant"
                                : "what is meant: "
                                        + String.join(", ", meant))
                        + (other.isEmpty()
                                ? ", and in nothing else that is known."
                                : "; and in " + String.join(", ", other)
                                        + ", which may be the reason for a difference that was measured."));
        study.measured().ifPresent(measured -> answers(page, measured.agreement()));
    }

    private void answers(Page page, Agreement agreement) {
        if (results.rehearsal().isEmpty()) {
            page.paragraph("The candidates' answers were not compared by a rehearsal.");
            return;
        }
        results.rehearsal().ifPresent(rehearsal -> {
            List<Difference> open = rehearsal.open(agreement);
            page.paragraph("The same visits went to every candidate on " + ReportContent.DAY.format(rehearsal.at())
                    + ", and "
                    + (open.isEmpty()
                            ? "all answers agree"
                            : open.size() + " differences were found that the study does not accept")
                    + (agreement.accepted().isEmpty() ? "." : ", beside those accepted below."));
            page.list(open.stream().map(Difference::sentence).toList());
        });
        page.list(agreement.accepted().stream()
                .map(one -> "Accepted: " + one.call() + " " + one.where() + ", " + one.reason()).toList());
    }

    private void methods(Page page) {
        page.list(List.of(
                "The unit is a run, the block is a round: every candidate once, in random order, with the same seed for"
                        + " everything sent. Only rounds in which both candidates of a pair have a sound run count.",
                "Response time counts from the instant a call was due, not from when it was sent (Tene 2013; Schroeder,"
                        + " Wierman, Harchol-Balter, NSDI 2006). Percentiles by HdrHistogram at three significant digits.",
                "Estimate: Hodges and Lehmann's median of the Walsh averages of the rounds' differences (of logarithms where"
                        + " ratios are compared). Interval and p: Wilcoxon's exact signed-rank test, with Pratt's zeros (Hollander,"
                        + " Wolfe 1973; Pratt 1959). The interval is discrete: the confidence shown is the one reached.",
                "All statements together: each pair on a deciding metric and each requirement of a candidate has one interval, from"
                        + " which all that is said of it is read; levels go by Holm's steps (Holm 1979; Shaffer 1980; Finner, Strassburger 2002), so"
                        + " that the chance that anything is false is at most the significance. What does not decide is a hint.",
                "The end of a fixed plan spends 95 % of the significance; gone on with, it is judged again each time its rounds have"
                        + " doubled, by the rest (Lan, DeMets 1983).",
                "Whole distributions: the mean of the rounds at each percentile, with a sup-t band that holds the whole curve (Montiel"
                        + " Olea, Plagborg-Møller 2019).",
                "Calls that were due and got no good answer count above every time; a percentile that would be one of theirs is not"
                        + " reached, which is worse than any figure. A run that the candidate ended itself is worse than any"
                        + " figure in every metric (Lachin 1999).",
                "A requirement on a percentile is one on the share of calls that lack a good answer within the limit, pooled over"
                        + " runs, with bounds that take the run for the unit (Cochran 1977; Clopper, Pearson 1934).",
                "Preference: weighted geometric mean of ratios to the best; shares of resampled rounds and of all weights"
                        + " (Lahdelma, Salminen 2001).",
                "Second opinions, which only warn: paired t, and the studentised bootstrap over rounds (Hall 1988).",
                "Warm-up by MSER-5 (White, Cobb, Spratt 2000), drift by Mann and Kendall with Theil and Sen's slope."));
    }

    private void repeat(Page page) {
        page.paragraph(
                "The folder of the study holds everything: study.yaml says what is asked and sent, runs/ what was"
                        + " recorded. With Kadrem, in that folder's parent:");
        page.pre(study instanceof FigureStudy
                ? "kadrem compare STUDY\nkadrem verdict STUDY"
                : "kadrem rehearse STUDY\nkadrem measure STUDY\nkadrem compare STUDY\nkadrem verdict STUDY");
        page.paragraph("Seed " + study.plan().seed() + "; digest of workload and load "
                + LoadDigest.of(study) + ".");
        page.foldedAndLong("study.yaml", inside -> inside.pre(results.file().text()));
    }
}
