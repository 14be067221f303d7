package kadrem.core.check;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Form;
import kadrem.core.study.Http;
import kadrem.core.study.Protocol;
import kadrem.core.study.Protocols;
import kadrem.core.study.SignIn;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;

/** What is wrong with the protocols of a study's candidates, and with the forms in which its calls are asked in them. */
final class ProtocolCheck {
    private final MeasuredStudy study;
    private final Findings findings;

    private ProtocolCheck(MeasuredStudy study, Findings findings) {
        this.study = study;
        this.findings = findings;
    }

    static void check(MeasuredStudy study, Findings findings) {
        var check = new ProtocolCheck(study, findings);
        for (int i = 0; i < study.candidates().size(); i++) {
            Candidate candidate = study.candidates().get(i);
            check.candidate("candidates[" + i + "]", candidate);
            int place = i;
            candidate.elsewhere().forEach((crowd, entrance) -> {
                if (study.load().crowds().stream().noneMatch(one -> one.name().equals(crowd))) {
                    findings.error("candidates[" + place + "].elsewhere",
                            "names \"" + crowd + "\", which is no crowd of the load", "Correct the name.");
                }
                check.candidate("candidates[" + place + "].elsewhere", candidate.at(entrance));
            });
        }
        Workload workload = study.workload();
        for (int c = 0; c < workload.first().size(); c++) {
            check.call("workload.first[" + c + "]", workload.first().get(c));
        }
        for (int v = 0; v < workload.visits().size(); v++) {
            List<Call> calls = workload.visits().get(v).calls();
            for (int c = 0; c < calls.size(); c++) {
                check.call("workload.visits[" + v + "].calls[" + c + "]", calls.get(c));
            }
        }
    }

    /** Whether a call must be one of HTTP: a candidate speaks it, or there is none yet. */
    static boolean asksHttp(MeasuredStudy study) {
        return study.candidates().isEmpty()
                || study.candidates().stream().anyMatch(one -> one.address().protocol().equals(Http.ID)
                        || one.elsewhere().values().stream()
                                .anyMatch(entrance -> entrance.address().protocol().equals(Http.ID)));
    }

    private void candidate(String path, Candidate candidate) {
        Optional<Protocol> found = Protocols.byId(candidate.address().protocol());
        if (found.isEmpty()) {
            findings.error(path + ".address",
                    "is of the protocol " + candidate.address().protocol() + ", for which there is no driver",
                    "Known are " + Protocols.known()
                            + "; the jar of another driver belongs into the folder for drivers.");
            return;
        }
        Protocol protocol = found.get();
        if (!protocol.heedsWire() && !candidate.access().wire().withSocket("").equals(Wire.USUAL.withSocket(""))) {
            findings.warning(path + ".wire", "has no effect over " + protocol.words(),
                    "Remove it from this candidate; what the study says for all is for those that speak HTTP.");
        }
        if (!protocol.heedsSignIn() && !(candidate.access().signIn() instanceof SignIn.None)) {
            findings.warning(path + ".signIn", "has no effect over " + protocol.words(),
                    protocol.settings().stream().anyMatch(field -> field.name().equals("user"))
                            ? "Write user and password into its group " + protocol.id() + "."
                            : "Remove it.");
        }
        Map<String, List<String>> settings = candidate.access().settings();
        protocol.objection(candidate.address(), settings).ifPresent(
                why -> findings.error(path + "." + protocol.id(), why, "Mend the settings of the candidate."));
    }

    private void call(String path, Call call) {
        Set<String> spoken = study.candidates().stream()
                .flatMap(one -> study.load().crowds().stream()
                        .filter(crowd -> study.workload().of(crowd).calls().stream()
                                .anyMatch(made -> made.name().equals(call.name())))
                        .map(crowd -> one.entrance(crowd.name()).address().protocol()))
                .collect(Collectors.toSet());
        for (String id : spoken.stream().sorted().toList()) {
            if (Protocols.byId(id).filter(Protocol::isCallsOwnForm).isEmpty() && call.form(id).isEmpty()) {
                findings.error(path, "(" + call.name() + ") is not asked in " + id
                        + ", which a candidate speaks",
                        "Give it a group " + id + " that says the same in that protocol.");
            }
        }
        for (Form form : call.forms()) {
            form(path + "." + form.protocol(), form);
        }
    }

    private void form(String path, Form form) {
        Protocols.byId(form.protocol()).ifPresent(protocol -> {
            protocol.objection(form)
                    .ifPresent(why -> findings.error(path, why, "Mend the form of the call."));
        });
    }
}
