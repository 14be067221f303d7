package kadrem.files.report;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

import kadrem.core.study.Candidate;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.Verdict;
import kadrem.core.verdict.Wording;
import kadrem.files.compare.Results;

/** The verdict as a decision record in Markdown (CommonMark 0.31), ready for a repository. */
public final class DecisionRecord {
    private final StringBuilder text = new StringBuilder();

    private DecisionRecord() {
    }

    /** @param made when the record is made */
    public static String write(Results results, Instant made) {
        return new DecisionRecord().of(results, LocalDate.ofInstant(made, ZoneOffset.UTC));
    }

    private String of(Results results, LocalDate day) {
        Study study = results.study();
        Verdict verdict = results.verdict();
        heading("# ", study.name());
        line("Date: " + day);
        line("Status: " + status(verdict));
        heading("## ", "Context");
        line(escaped(study.question().text()));
        if (!study.question().deciders().isEmpty()) {
            line("What decides, most important first:");
            list(study.question().deciders().stream().map(DecisionRecord::decider).toList());
        }
        if (!study.question().requirements().isEmpty()) {
            line("What every candidate must meet:");
            list(study.question().requirements().stream().map(RequirementResult::words).toList());
        }
        heading("## ", "Options");
        list(study.candidates().stream().map(candidate -> candidate.name() + " (" + candidate.id() + ")"
                + (candidate.id().equals(study.question().baseline()) ? ", the baseline" : "")
                + (study instanceof FigureStudy ? "" : ", " + candidate.address())).toList());
        heading("## ", "Evidence");
        line(escaped(evidence(results)));
        list(results.comparison().pairs().stream().filter(pair -> pair.deciding())
                .map(pair -> Wording.finding(study, pair) + ": " + Wording.outcome(pair) + ".").toList());
        list(verdict.requirements().stream().map(one -> study.candidate(one.candidate()).map(Candidate::name)
                .orElse(one.candidate()) + ", " + RequirementResult.words(one.requirement()) + ": "
                + one.sentenceWithNext())
                .toList());
        list(study.question().factors().stream().flatMap(factor -> study.candidates().stream()
                .flatMap(candidate -> Optional.ofNullable(factor.scores().get(candidate.id())).stream()
                        .map(score -> "Judged: " + factor.name() + " of " + candidate.name() + " is "
                                + score.words() + ", because " + score.reason())))
                .toList());
        heading("## ", "Decision");
        line(escaped(verdict.paragraph()));
        heading("## ", "Consequences");
        list(consequences(results));
        return text.toString();
    }

    private static String status(Verdict verdict) {
        return switch (verdict.kind()) {
            case RECOMMENDED -> "proposed: " + escaped(names(verdict));
            case EITHER -> "proposed: either of " + escaped(names(verdict));
            case NONE_MEETS -> "proposed: none of the options";
            case OPEN, NOTHING -> "open";
        };
    }

    private static String names(Verdict verdict) {
        Study study = verdict.comparison().study();
        return verdict.chosen().stream().map(id -> study.candidate(id).map(Candidate::name).orElse(id))
                .collect(Collectors.joining(" and "));
    }

    private static String decider(Question.Decider decider) {
        return decider.metric().label() + ", " + (decider.metric().higherIsBetter() ? "higher" : "lower")
                + " is better; a difference of less than " + decider.margin().words()
                + " does not matter";
    }

    private static String evidence(Results results) {
        long entered = results.comparison().inOrder().size();
        return results.study() instanceof FigureStudy
                ? entered + " values measured elsewhere."
                : entered + " runs that count, in " + results.comparison().progress().measured() + " rounds; "
                        + results.comparison().leftOut().size() + " runs were left out, each with its reason in the"
                        + " report. Identical load for every candidate, seed " + results.study().plan().seed() + ".";
    }

    private static List<String> consequences(Results results) {
        var lines = new ArrayList<String>();
        Verdict verdict = results.verdict();
        lines.addAll(verdict.notShown());
        verdict.requirements().stream().filter(one -> verdict.chosen().contains(one.candidate()))
                .map(one -> "To be kept: " + RequirementResult.words(one.requirement()) + ".").distinct()
                .forEach(lines::add);
        lines.add("To be asked again when a candidate's version, the load or the host changes: the runs are kept beside"
                + " study.yaml, and Kadrem makes new ones under the same load.");
        return lines;
    }

    private void heading(String level, String words) {
        text.append(level).append(escaped(words).replace('\n', ' ')).append("\n\n");
    }

    private void line(String words) {
        text.append(words).append("\n\n");
    }

    private void list(List<String> items) {
        items.forEach(item -> text.append("- ").append(escaped(item).replace('\n', ' ')).append('\n'));
        if (!items.isEmpty()) {
            text.append('\n');
        }
    }

    /**
     * Text in which nothing is taken for a mark of Markdown or HTML. Backslash escapes and entities: CommonMark 0.31, sections 2.4
     * and 2.5.
     */
    private static String escaped(String words) {
        return Shown.text(words).replaceAll("([\\\\`*_{}\\[\\]#|!~])", "\\\\$1").replaceFirst("^([-+=])", "\\\\$1")
                .replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;");
    }
}
