package kadrem.core.study;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Pattern;

/** Finds what is wrong with the sources that a candidate's runs are to be watched by. */
final class WatchCheck {
    /** Names that the sources have that are always there. */
    private static final Set<String> TAKEN = Set.of("this host", "candidate", "Kadrem");

    private static final Pattern HTTP = Pattern
            .compile("https?://(\\[[0-9A-Fa-f:.]+\\]|[^\\s/:?#@\\[\\]]+)(:\\d{1,5})?(/\\S*)?");

    private WatchCheck() {
    }

    /** @param path place of the list of sources in the study */
    static List<Problem> check(String path, Candidate candidate) {
        var problems = new ArrayList<Problem>();
        Set<String> names = new HashSet<>(TAKEN);
        for (int i = 0; i < candidate.watch().size(); i++) {
            WatchSource source = candidate.watch().get(i);
            String at = path + "[" + i + "]";
            if (source.name().isBlank() || !names.add(source.name())) {
                problems.add(Problem.error(at + ".name", "is \"" + source.name() + "\", which is taken",
                        "Give each source of a candidate a name of its own."));
            }
            one(at, source, candidate, problems);
        }
        return problems;
    }

    private static void one(String at, WatchSource source, Candidate candidate, List<Problem> problems) {
        switch (source) {
            case WatchSource.RemoteHost remote -> secret(at, remote.password(), problems);
            case WatchSource.MetricsEndpoint endpoint -> {
                if (!isHttp(endpoint.address())) {
                    problems.add(Problem.error(at + ".metrics", "is \"" + endpoint.address() + "\"",
                            "Write it like this: metrics: http://127.0.0.1:9100/metrics"));
                }
                if (endpoint.series().isEmpty()) {
                    problems.add(Problem.error(at + ".series", "is empty",
                            "Choose the series: a list of groups with select, unit and role."));
                }
            }
            case WatchSource.Counters counters -> {
                secret(at, counters.password(), problems);
                if (!counters.database().startsWith("jdbc:")) {
                    problems.add(Problem.error(at + ".database", "is \"" + counters.database() + "\"",
                            "Write a JDBC address, such as jdbc:postgresql://127.0.0.1/board."));
                } else if (counters.database().toLowerCase(Locale.ROOT).contains("password=")) {
                    problems.add(Problem.error(at + ".database", "holds a password",
                            "Write a reference as password: instead, such as {{env:NAME}}."));
                }
            }
            case WatchSource.JavaMachine machine -> {
                if (machine.address().isPresent() && !machine.address().get().matches("\\S+:\\d{1,5}")) {
                    problems.add(Problem.error(at + ".jvm", "is \"" + machine.address().get() + "\"",
                            "Use launched for the one that Kadrem starts, or the host and port of its management"
                                    + " connection, such as 127.0.0.1:9010."));
                } else if (machine.address().isEmpty() && candidate.launch().isEmpty()) {
                    problems.add(Problem.error(at + ".jvm", "is the launched one, but the candidate is not launched",
                            "Give the host and port of its management connection, such as 127.0.0.1:9010."));
                }
            }
            case WatchSource.ProcessTree _,WatchSource.ControlGroup _ -> {
                // whether it is there shows when it is read
            }
        }
    }

    private static boolean isHttp(String address) {
        return HTTP.matcher(address).matches();
    }

    private static void secret(String at, String password, List<Problem> problems) {
        if (!password.isEmpty() && Call.placeholders(password).stream().noneMatch(SecretReference::isOne)) {
            problems.add(Problem.error(at + ".password", "holds a secret itself",
                    "Write a reference instead: {{env:NAME}} for a variable of the environment, {{file:PATH}} for a file"
                            + " outside the study."));
        }
    }
}
