package kadrem.core.check;

import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.gate.Credentials;
import kadrem.core.plan.Curve;
import kadrem.core.study.Call;
import kadrem.core.study.Crowd;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.Form;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.SecretReference;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;

/** Visits, calls and value lists against each other. */
final class WorkloadCheck {
    /** Names under which the latency log of a run has figures that belong to no call. */
    private static final Set<String> FIGURES = Set.of("lag", "late", "connect", "handshake");
    /** The protocol whose calls are programs, and its field with their words. */
    private static final String COMMAND = "command";

    private final MeasuredStudy study;
    private final Findings findings;
    private final Set<String> lists;
    private final Set<String> names = new HashSet<>();

    private WorkloadCheck(MeasuredStudy study, Findings findings) {
        this.study = study;
        this.findings = findings;
        lists = study.workload().values().stream().map(ValueList::name).collect(Collectors.toSet());
    }

    static void check(MeasuredStudy study, Findings findings) {
        new WorkloadCheck(study, findings).workload(study.workload());
    }

    private void workload(Workload workload) {
        if (lists.size() < workload.values().size()) {
            findings.error("workload.values", "has two lists of one name", "Give each value list its own name.");
        }
        for (int i = 0; i < workload.values().size(); i++) {
            list("workload.values[" + i + "]", workload.values().get(i));
        }
        var known = new HashSet<>(lists);
        for (int c = 0; c < workload.first().size(); c++) {
            call("workload.first[" + c + "]", workload.first().get(c), known);
        }
        for (int v = 0; v < workload.visits().size(); v++) {
            Visit visit = workload.visits().get(v);
            var knownHere = new HashSet<>(known);
            for (int c = 0; c < visit.calls().size(); c++) {
                String at = "workload.visits[" + v + "].calls[" + c + "]";
                call(at, visit.calls().get(c), knownHere);
                warnWhereNothingVaries(at, visit.calls().get(c));
            }
        }
    }

    private void list(String path, ValueList list) {
        if (list.size() < 1) {
            findings.error(path, "has no rows", "Give it at least one value.");
            return;
        }
        if (list instanceof ValueList.Zipf zipf && zipf.size() > ValueList.Zipf.MAX) {
            findings.error(path, "has " + zipf.size() + " numbers", "Use at most " + ValueList.Zipf.MAX + ".");
        }
        if (list.draw().keep() == ValueList.Keep.CALL && list.draw().order() != ValueList.Order.RANDOM) {
            findings.error(path + ".keep", "is call, but the rows come in an order",
                    "Only lists drawn at random can be drawn anew for each call.");
        }
        warnWhereShort(path, list);
    }

    private void warnWhereShort(String path, ValueList list) {
        List<LoadProfile.Single> loads = study.load().crowds().stream().map(Crowd::load).toList();
        int users = loads.stream().mapToInt(load -> load instanceof LoadProfile.Closed closed ? closed.users() : 0)
                .sum();
        if (list.draw().order() == ValueList.Order.PER_USER && users > list.size()) {
            findings.warning(path, "has " + list.size() + " rows for " + users + " users",
                    "Some users share a row; lengthen the list, or accept it.");
        }
        if (list.draw().order() != ValueList.Order.RANDOM) {
            double visits = loads.stream().filter(LoadProfile.Open.class::isInstance)
                    .mapToDouble(load -> Curve.of(load).area()).sum();
            if (visits > list.size()) {
                findings.warning(path,
                        "has " + list.size() + " rows for " + Math.round(visits) + " visits of a run",
                        "After the last row it begins again from the first; lengthen it, or accept it.");
            }
        }
    }

    private void warnWhereNothingVaries(String path, Call call) {
        boolean constant = call.placeholders().stream().allMatch(SecretReference::isOne);
        if (constant && call.method().equals("GET") && ProtocolCheck.asksHttp(study)
                && !study.workload().values().isEmpty()) {
            findings.warning(path, "(" + call.name() + ") never varies: every user asks for the same",
                    "A cache may answer it; use a {{placeholder}}, or accept it.");
        }
    }

    /** @param known lists and what was captured so far; what this call captures is added */
    private void call(String path, Call call, Set<String> known) {
        if (FIGURES.contains(call.name())) {
            findings.error(path + ".name", "is \"" + call.name() + "\", which names a figure of the generator",
                    "Use another name, such as " + call.name() + "-call.");
        }
        if (!names.add(call.name())) {
            findings.error(path + ".name", "is \"" + call.name() + "\" a second time", "Give each call its own name.");
        }
        if (ProtocolCheck.asksHttp(study) && call.path().isEmpty()) {
            findings.error(path + ".path", "is missing, and a candidate speaks HTTP", "Add path: /berths/7");
        }
        for (String name : call.placeholders()) {
            if (!known.contains(name) && !SecretReference.isOne(name)) {
                findings.error(path,
                        "uses {{" + name + "}}, but no value list has that name and no earlier call captures it",
                        "Add it to workload.values" + (known.isEmpty()
                                ? "."
                                : ", or use one of " + known.stream().sorted().toList() + "."));
            }
        }
        secrets(path, call);
        expectations(path + ".expect", call.expected());
        captures(path, call.captures(), known);
        for (Form form : call.forms()) {
            form.expected().ifPresent(expected -> expectations(path + "." + form.protocol() + ".expect", expected));
            captures(path + "." + form.protocol(), form.captures().orElse(List.of()), known);
        }
    }

    /** A study is passed on, with all that is written in it. */
    private void secrets(String path, Call call) {
        Stream<String> texts = Stream.of(Stream.of(call.path()), call.body().templates().stream(),
                call.headers().stream().map(header -> header.name() + ": " + header.value()),
                call.forms().stream().filter(form -> !form.protocol().equals(COMMAND))
                        .flatMap(form -> form.fields().values().stream()).flatMap(List::stream))
                .flatMap(one -> one);
        texts.flatMap(text -> Credentials.in(text).stream()).map(Credentials.Find::what).distinct()
                .forEach(what -> findings.warning(path, "holds what looks like a secret: " + what,
                        "Whoever has the study has it too. Write a reference instead: {{env:NAME}} or {{file:PATH}}."));
        call.form(COMMAND).map(form -> form.fields().getOrDefault(COMMAND, List.of()))
                .ifPresent(words -> CandidateCheck.arguments(path + "." + COMMAND, words, findings));
    }

    private void captures(String path, List<Capture> captures, Set<String> known) {
        for (Capture capture : captures) {
            if (!capture.name().matches("[A-Za-z][A-Za-z0-9_-]{0,39}")) {
                findings.error(path + ".capture", "has the name \"" + capture.name() + "\"",
                        "Use a letter, then letters, digits, hyphens and underscores.");
            }
            if (lists.contains(capture.name())) {
                findings.error(path + ".capture",
                        "captures " + capture.name() + ", which is the name of a value list",
                        "Give one of the two another name.");
            }
            if (capture.source() instanceof Capture.Source.Pattern(String regex)) {
                findings.pattern(path + ".capture", regex);
            }
            known.add(capture.name());
        }
    }

    private void expectations(String path, Expectations expected) {
        for (Expectations.Expectation one : expected.content()) {
            if (one instanceof Expectations.Expectation.BodyMatches(String regex)) {
                findings.pattern(path, regex);
            }
            if (one instanceof Expectations.Expectation.Size(long least, long most) && most < least) {
                findings.error(path + ".size", "is from " + least + " to " + most,
                        "Use least and most, such as 10 and 5000.");
            }
        }
    }
}
