package kadrem.core.check;

import java.util.HashSet;
import java.util.List;
import java.util.Locale;

import kadrem.core.gate.Credentials;
import kadrem.core.study.Access;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.core.study.Wire;

/** What a candidate says of itself, one field against the other, and the candidates against each other. */
final class CandidateCheck {
    private final Findings findings;

    private CandidateCheck(Findings findings) {
        this.findings = findings;
    }

    static void check(Study study, Findings findings) {
        var check = new CandidateCheck(findings);
        var ids = new HashSet<String>();
        for (int i = 0; i < study.candidates().size(); i++) {
            Candidate candidate = study.candidates().get(i);
            String path = "candidates[" + i + "]";
            if (!ids.add(candidate.id())) {
                findings.error(path + ".id", "is \"" + candidate.id() + "\" a second time",
                        "Give each candidate its own id.");
            }
            check.candidate(path, candidate);
        }
    }

    private void candidate(String path, Candidate candidate) {
        entrance(path, candidate);
        candidate.elsewhere().values().forEach(other -> entrance(path + ".elsewhere", candidate.at(other)));
        WatchCheck.check(path + ".watch", candidate, findings);
        candidate.launch().ifPresent(launch -> arguments(path + ".launch.command", launch.command(), findings));
        candidate.reset().ifPresent(reset -> control(path + ".reset", reset));
        candidate.data().ifPresent(data -> control(path + ".data", data));
    }

    private void entrance(String path, Candidate candidate) {
        if (!candidate.address().isLoopback()) {
            findings.warning(path + ".address", "is " + candidate.address() + ", which is not on this machine",
                    "It is loaded only after you have said that you may: kadrem allow " + candidate.address().host());
        }
        access(path, candidate.access());
        wire(path + ".wire", candidate);
    }

    private void control(String path, Candidate.Reset control) {
        if (control instanceof Candidate.ControlCommand command) {
            arguments(path + ".command", command.command(), findings);
        }
        if (control instanceof Candidate.ControlSql sql
                && sql.database().toLowerCase(Locale.ROOT).contains("password=")) {
            findings.error(path + ".database", "holds a secret itself",
                    "Write a reference as password: instead, such as {{env:NAME}}.");
        }
    }

    /** Every user of a machine sees the arguments of all its processes. */
    static void arguments(String path, List<String> command, Findings findings) {
        boolean refers = command.stream().anyMatch(Findings::refersToSecret);
        List<Credentials.Find> found = Credentials.in(String.join(" ", command));
        if (refers || !found.isEmpty()) {
            findings.warning(path, refers
                    ? "hands a secret over as an argument"
                    : "holds what looks like a secret: " + found.getFirst().what(),
                    "Every user of this machine can see the arguments of a process; hand it over by a file or the environment.");
        }
    }

    private void wire(String path, Candidate candidate) {
        Wire wire = candidate.access().wire();
        if (wire.depth() > 1 && wire.reuse() != Wire.Reuse.KEEP) {
            findings.error(path + ".connections", "is " + wire.reuse().id() + ", but several calls share a connection",
                    "Use keep, or one call at a time.");
        }
        if (wire.socket().isPresent() && candidate.address().secure()) {
            findings.error(path + ".socket", "is there, but the address is https",
                    "Use an http address with a Unix socket.");
        }
        if (wire.socket().isPresent() && !candidate.address().isLoopback()) {
            findings.error(path + ".socket", "is there, but the address is on another host",
                    "Use an address such as http://localhost; it gives the Host header.");
        }
    }

    private void access(String path, Access access) {
        if (access.tls().certificate().isPresent() != access.tls().key().isPresent()) {
            findings.error(path + ".tls", "names only one of certificate and key", "Name both, or none.");
        }
    }
}
