package kadrem.files.study;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

import kadrem.core.measure.SeriesRole;
import kadrem.core.study.WatchSource;

/** {@code candidates[].watch}: what is watched while a candidate's runs go on. Each group has one kind, and a name. */
final class WatchReader {
    private static final List<String> KINDS = List.of("process", "cgroup", "jvm", "ssh", "metrics", "sql");
    private static final Pattern SSH = Pattern.compile("(?<user>[^@\\s]+)@(?<host>\\[[^\\]]+\\]|[^:@\\s]+)"
            + "(:(?<port>\\d{1,5}))?");
    private static final int SSH_PORT = 22;

    private WatchReader() {
    }

    static List<WatchSource> read(List<Fields> groups) {
        var sources = new ArrayList<WatchSource>();
        for (Fields group : groups) {
            source(group).ifPresent(sources::add);
            group.warnOfUnknown();
        }
        return List.copyOf(sources);
    }

    private static Optional<WatchSource> source(Fields group) {
        List<String> kinds = KINDS.stream().filter(group::has).toList();
        if (kinds.size() != 1) {
            group.error(kinds.isEmpty() ? "name" : kinds.get(1),
                    kinds.isEmpty()
                            ? "stands alone: nothing says what is watched"
                            : "stands beside " + kinds.getFirst(),
                    "Give one of " + String.join(", ", KINDS) + ".");
            group.passOver(group.names().toArray(String[]::new));
            return Optional.empty();
        }
        String kind = kinds.getFirst();
        String name = group.optional("name").orElse(kind);
        return switch (kind) {
            case "process" -> Optional.of(new WatchSource.ProcessTree(name, group.text(kind, "/run/board.pid")));
            case "cgroup" -> Optional.of(new WatchSource.ControlGroup(name,
                    group.text(kind, "/sys/fs/cgroup/system.slice/board.service")));
            case "jvm" -> Optional.of(new WatchSource.JavaMachine(name,
                    group.optional(kind).filter(where -> !where.equals("launched"))));
            case "ssh" -> remote(group, name);
            case "metrics" -> Optional.of(new WatchSource.MetricsEndpoint(name,
                    group.text(kind, "http://127.0.0.1:9100/metrics"), choices(group)));
            default -> Optional.of(new WatchSource.Counters(name,
                    group.text("database", "jdbc:postgresql://127.0.0.1/board"), group.optional("user").orElse(""),
                    group.optional("password").orElse(""), group.text(kind, "select ..."), group.texts("counters")));
        };
    }

    private static Optional<WatchSource> remote(Fields group, String name) {
        String where = group.text("ssh", "watcher@db.example:22");
        Matcher parts = SSH.matcher(where);
        Optional<String> key = group.optional("key");
        String password = group.optional("password").orElse("");
        int port = parts.matches() && parts.group("port") != null ? Integer.parseInt(parts.group("port")) : SSH_PORT;
        if (!parts.matches() || port < 1 || port > 65_535) {
            group.error("ssh", "is \"" + where + "\"", "Write it like this: ssh: watcher@db.example:22");
            return Optional.empty();
        }
        return Optional.of(new WatchSource.RemoteHost(name, parts.group("user"),
                parts.group("host").replaceAll("[\\[\\]]", ""), port, key, password));
    }

    private static List<WatchSource.MetricsEndpoint.Choice> choices(Fields group) {
        var choices = new ArrayList<WatchSource.MetricsEndpoint.Choice>();
        for (Fields one : group.groups("series")) {
            String role = one.optional("role").orElse(SeriesRole.CUSTOM.id());
            if (SeriesRole.byId(role).isEmpty()) {
                one.error("role", "is \"" + role + "\"", "Use one of: " + Arrays.stream(SeriesRole.values())
                        .map(SeriesRole::id).collect(Collectors.joining(", ")) + ".");
            }
            choices.add(new WatchSource.MetricsEndpoint.Choice(one.text("select", "process_open_fds"),
                    one.optional("unit").orElse(""), role));
            one.warnOfUnknown();
        }
        return choices;
    }
}
