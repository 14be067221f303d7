package kadrem.core.check;

import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Crowd;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;

/** The crowds of a load against each other and against the workload that they share. */
final class CrowdCheck {
    /** More are no crowds any more, and cannot be looked at. */
    private static final int MOST = 20;

    private final Workload workload;
    private final List<Crowd> crowds;
    private final Findings findings;

    private CrowdCheck(MeasuredStudy study, Findings findings) {
        workload = study.workload();
        crowds = study.load().crowds();
        this.findings = findings;
    }

    static void check(MeasuredStudy study, Findings findings) {
        new CrowdCheck(study, findings).crowds();
    }

    private void crowds() {
        if (crowds.size() > MOST) {
            findings.error("load.crowds", "are " + crowds.size(), "Use at most " + MOST + ".");
        }
        Set<String> calls = workload.calls().stream().map(Call::name).collect(Collectors.toSet());
        Set<String> firsts = workload.first().stream().map(Call::name).collect(Collectors.toSet());
        Set<String> visits = workload.visits().stream().map(Visit::name).collect(Collectors.toSet());
        var names = new HashSet<String>();
        var made = new HashSet<String>();
        for (int i = 0; i < crowds.size(); i++) {
            Crowd crowd = crowds.get(i);
            String path = "load.crowds[" + i + "]";
            if (!names.add(crowd.name())) {
                findings.error(path + ".name", "is that of another crowd", "Give each crowd its own name.");
            } else if (calls.contains(crowd.name())) {
                findings.error(path + ".name", "is that of a call, \"" + crowd.name() + "\"",
                        "Give it another, since figures are told by both.");
            }
            if (crowd.makes().isEmpty()) {
                findings.error(path + ".makes", "names no visit", "Name one, or remove the crowd.");
            }
            for (String visit : crowd.makes()) {
                if (!visits.contains(visit)) {
                    findings.error(path + ".makes", "names the visit \"" + visit + "\", which is not there",
                            "The workload has " + String.join(", ", visits.stream().sorted().toList()) + ".");
                } else if (!made.add(visit)) {
                    findings.error(path + ".makes", "names the visit \"" + visit + "\", which another crowd makes",
                            "Give this crowd a visit of its own name, so that its figures stand for themselves.");
                }
            }
            crowd.first().stream().flatMap(List::stream).filter(call -> !firsts.contains(call))
                    .forEach(call -> findings.error(path + ".first",
                            "names the call \"" + call + "\", which is not in the first part",
                            firsts.isEmpty()
                                    ? "The workload has no first part."
                                    : "It has "
                                            + String.join(", ", firsts.stream().sorted().toList()) + "."));
            captured(path, crowd);
        }
        visits.stream().filter(visit -> !made.contains(visit)).sorted()
                .forEach(visit -> findings.error("load.crowds",
                        "do not make the visit \"" + visit + "\"", "Name it in one of them, or remove it."));
    }

    /** A crowd that does not make a first call does not have what that captures. */
    private void captured(String path, Crowd crowd) {
        Workload own = workload.of(crowd);
        var lacking = new HashSet<>(names(workload.first().stream()));
        lacking.removeAll(names(own.calls().stream()));
        own.calls().forEach(call -> call.placeholders().stream().filter(lacking::contains).distinct()
                .forEach(name -> findings.error(path + ".first", "leaves out the call that captures {{" + name + "}},"
                        + " which \"" + call.name() + "\" sends", "Let the crowd make that call.")));
    }

    private static Set<String> names(Stream<Call> calls) {
        return calls.flatMap(call -> call.captures().stream()).map(Capture::name).collect(Collectors.toSet());
    }
}
