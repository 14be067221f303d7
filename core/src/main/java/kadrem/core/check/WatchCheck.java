package kadrem.core.check;

import java.util.HashSet;
import java.util.Locale;
import java.util.Set;

import kadrem.core.study.Candidate;
import kadrem.core.study.WatchSource;

/** The sources that a candidate's runs are to be watched by, against each other and against the candidate. */
final class WatchCheck {
    /** Names that the sources have that are always there. */
    private static final Set<String> TAKEN = Set.of("this host", "candidate", "Kadrem");

    private WatchCheck() {
    }

    /** @param path place of the list of sources in the study */
    static void check(String path, Candidate candidate, Findings findings) {
        Set<String> names = new HashSet<>(TAKEN);
        for (int i = 0; i < candidate.watch().size(); i++) {
            WatchSource source = candidate.watch().get(i);
            String at = path + "[" + i + "]";
            if (source.name().isBlank() || !names.add(source.name())) {
                findings.error(at + ".name", "is \"" + source.name() + "\", which is taken",
                        "Give each source of a candidate a name of its own.");
            }
            if (source instanceof WatchSource.Counters counters
                    && counters.database().toLowerCase(Locale.ROOT).contains("password=")) {
                findings.error(at + ".database", "holds a password",
                        "Write a reference as password: instead, such as {{env:NAME}}.");
            }
            if (source instanceof WatchSource.JavaMachine machine && machine.address().isEmpty()
                    && candidate.launch().isEmpty()) {
                findings.error(at + ".jvm", "is the launched one, but the candidate is not launched",
                        "Give the host and port of its management connection, such as 127.0.0.1:9010.");
            }
        }
    }
}
