package kadrem.core.study;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

import kadrem.core.plan.Arrivals;
import kadrem.core.plan.Rounds;

/** Checks that the parts of a study fit together; what can be seen from one field alone is checked by its reader. */
public final class StudyCheck {
    private static final Set<String> METHODS = Set.of("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS");
    private static final int MOST_CONNECTIONS = 20_000;

    private final Study study;
    private final List<Problem> problems = new ArrayList<>();

    private StudyCheck(Study study) {
        this.study = study;
    }

    /** All problems of {@code study}, in the order of the file. */
    public static List<Problem> check(Study study) {
        var check = new StudyCheck(study);
        check.question();
        check.candidates();
        check.workload();
        check.load();
        check.plan();
        return List.copyOf(check.problems);
    }

    private void question() {
        Question question = study.question();
        if (study.candidate(question.baseline()).isEmpty()) {
            error("question.baseline", "is \"" + question.baseline() + "\", which is not the id of a candidate",
                    "Use one of: " + candidateIds() + ".");
        }
        if (!(question.significance() > 0 && question.significance() < 0.5)) {
            error("question.significance", "is " + question.significance(), "Use a share such as 0.05.");
        }
        var seen = new HashSet<Metric>();
        for (int i = 0; i < question.deciders().size(); i++) {
            Question.Decider decider = question.deciders().get(i);
            String path = "question.decide[" + i + "]";
            if (!seen.add(decider.metric())) {
                error(path + ".metric", "names " + decider.metric().id() + " a second time", "Remove one of the two.");
            }
            if (!(decider.margin() >= 0 && decider.margin() <= 10)) {
                error(path + ".margin", "is " + decider.margin(), "Use a share such as 5%.");
            }
        }
        if (question.deciders().isEmpty()) {
            error("question.decide", "is empty", "Name at least one metric that decides, such as p99.");
        }
    }

    private void candidates() {
        if (study.candidates().isEmpty()) {
            error("candidates", "is empty", "Add at least one candidate.");
        }
        var ids = new HashSet<String>();
        for (int i = 0; i < study.candidates().size(); i++) {
            Candidate candidate = study.candidates().get(i);
            String path = "candidates[" + i + "]";
            if (!candidate.id().matches("[a-z0-9][a-z0-9-]{0,39}")) {
                error(path + ".id", "is \"" + candidate.id() + "\"",
                        "Use up to 40 lower-case letters, digits and hyphens: it becomes part of folder names.");
            }
            if (!ids.add(candidate.id())) {
                error(path + ".id", "is \"" + candidate.id() + "\" a second time", "Give each candidate its own id.");
            }
            if (!candidate.address().isLoopback()) {
                error(path + ".address", "is " + candidate.address() + ", which is not on this machine",
                        "This version sends load to loopback addresses only (127.0.0.1, ::1, localhost).");
            }
            if (candidate.launch().isPresent() && candidate.launch().get().command().isEmpty()) {
                error(path + ".launch.command", "is empty", "Give the program and its arguments as a list.");
            }
        }
    }

    private void workload() {
        Set<String> lists = study.workload().values().stream().map(ValueList::name).collect(Collectors.toSet());
        if (lists.size() < study.workload().values().size()) {
            error("workload.values", "has two lists of one name", "Give each value list its own name.");
        }
        for (int i = 0; i < study.workload().values().size(); i++) {
            if (study.workload().values().get(i).size() < 1) {
                error("workload.values[" + i + "]", "has no rows", "Give it at least one value.");
            }
        }
        if (study.workload().visits().isEmpty()) {
            error("workload.visits", "is empty", "Add at least one visit with one call.");
        }
        var names = new HashSet<String>();
        for (int v = 0; v < study.workload().visits().size(); v++) {
            Visit visit = study.workload().visits().get(v);
            String path = "workload.visits[" + v + "]";
            if (!(visit.share() > 0)) {
                error(path + ".share", "is " + visit.share(), "Use a number above 0, or remove the visit.");
            }
            if (visit.calls().isEmpty()) {
                error(path + ".calls", "is empty", "Add a call, or remove the visit.");
            }
            for (int c = 0; c < visit.calls().size(); c++) {
                call(path + ".calls[" + c + "]", visit.calls().get(c), lists, names);
            }
        }
    }

    private void call(String path, Call call, Set<String> lists, Set<String> names) {
        if (!call.name().matches("[A-Za-z0-9][A-Za-z0-9._-]{0,59}")) {
            error(path + ".name", "is \"" + call.name() + "\"",
                    "Use letters, digits, dots, hyphens and underscores: it becomes a tag in the latency log.");
        }
        if (!names.add(call.name())) {
            error(path + ".name", "is \"" + call.name() + "\" a second time", "Give each call its own name.");
        }
        if (!METHODS.contains(call.method())) {
            error(path + ".method", "is \"" + call.method() + "\"",
                    "Use one of " + METHODS.stream().sorted().collect(Collectors.joining(", ")) + ".");
        }
        if (!call.path().startsWith("/")) {
            error(path + ".path", "is \"" + call.path() + "\"", "Begin it with a slash.");
        }
        if (call.path().chars().anyMatch(c -> c <= ' ' || c > '~')) {
            error(path + ".path", "holds a character that may not stand in an address",
                    "Write it percent-encoded (RFC 3986).");
        }
        String all = call.path() + call.body()
                + call.headers().stream().map(Call.Header::value).collect(Collectors.joining());
        for (String name : Call.placeholders(all)) {
            if (!lists.contains(name)) {
                error(path, "uses {{" + name + "}}, but no value list has that name",
                        "Add it to workload.values" + (lists.isEmpty() ? "." : ", or use one of " + lists + "."));
            }
        }
    }

    private void load() {
        LoadProfile load = study.load();
        wholeSeconds("load.warmUp", load.warmUp(), 0, 3600);
        wholeSeconds("load.measured", load.measured(), 1, 24 * 3600);
        if (load.timeout().toMillis() < 1 || load.timeout().toMinutes() > 10) {
            error("load.timeout", "is " + load.timeout().toMillis() + " ms", "Use between 1ms and 10min.");
        }
        switch (load) {
            case LoadProfile.Closed closed -> {
                range("load.users", closed.users(), 1, MOST_CONNECTIONS);
                if (closed.thinkTime().toMinutes() > 60) {
                    error("load.thinkTime", "is over an hour", "Use a shorter pause.");
                }
            }
            case LoadProfile.Open open -> {
                if (!(open.arrivalsPerSecond() > 0 && open.arrivalsPerSecond() <= 1_000_000)) {
                    error("load.arrivalsPerSecond", "is " + open.arrivalsPerSecond(),
                            "Use a rate above 0 and up to 1000000.");
                }
                double arrivals = open.arrivalsPerSecond() * open.warmUp().plus(open.measured()).toSeconds();
                if (open.spacing() == LoadProfile.Spacing.POISSON && arrivals > Arrivals.Poisson.MOST) {
                    error("load.spacing", "is poisson for " + (long) arrivals + " arrivals",
                            "Use constant spacing, or at most " + Arrivals.Poisson.MOST + " arrivals in a run.");
                }
                range("load.connections", open.connections(), 1, MOST_CONNECTIONS);
            }
        }
    }

    private void plan() {
        range("plan.rounds", study.plan().rounds(), 1, 1000);
        int comparisons = study.pairs().size() * study.question().deciders().size();
        int needed = Rounds.neededToSettle(comparisons, study.question().significance());
        if (comparisons > 0 && study.plan().rounds() < needed) {
            problems.add(Problem.warning("plan.rounds",
                    "is " + study.plan().rounds() + ", which cannot settle anything: " + comparisons
                            + " comparisons at a significance of " + study.question().significance() + " need "
                            + needed + " rounds",
                    "Plan at least " + needed + " rounds, or decide on fewer metrics."));
        }
    }

    private void wholeSeconds(String path, Duration value, long least, long most) {
        if (value.toNanosPart() != 0) {
            error(path, "is " + value.toMillis() + " ms", "Use whole seconds, such as 5s.");
        }
        range(path, value.toSeconds(), least, most);
    }

    private void range(String path, long value, long least, long most) {
        if (value < least || value > most) {
            error(path, "is " + value, "Use a number from " + least + " to " + most + ".");
        }
    }

    private String candidateIds() {
        return study.candidates().stream().map(Candidate::id).collect(Collectors.joining(", "));
    }

    private void error(String path, String what, String mend) {
        problems.add(Problem.error(path, what, mend));
    }
}
