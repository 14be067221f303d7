package kadrem.files.study;

import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

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
        return groups.stream().flatMap(group -> source(group).stream()).toList();
    }

    private static Optional<WatchSource> source(Fields group) {
        return KINDS.stream().filter(group::has).findFirst().flatMap(kind -> {
            String name = group.optional("name").orElse(kind);
            return switch (kind) {
                case "process" -> Optional.of(new WatchSource.ProcessTree(name, group.text(kind)));
                case "cgroup" -> Optional.of(new WatchSource.ControlGroup(name, group.text(kind)));
                case "jvm" -> Optional.of(new WatchSource.JavaMachine(name,
                        group.optional(kind).filter(where -> !where.equals("launched"))));
                case "ssh" -> remote(group, name);
                case "metrics" -> Optional.of(new WatchSource.MetricsEndpoint(name, group.text(kind), choices(group)));
                default -> Optional.of(new WatchSource.Counters(name, group.text("database"), group.text("user"),
                        group.text("password"), group.text(kind), group.texts("counters")));
            };
        });
    }

    private static Optional<WatchSource> remote(Fields group, String name) {
        String where = group.text("ssh");
        Matcher parts = SSH.matcher(where);
        Optional<String> key = group.optional("key");
        String password = group.text("password");
        int port = parts.matches() && parts.group("port") != null ? Integer.parseInt(parts.group("port")) : SSH_PORT;
        if (!parts.matches() || port < 1 || port > 65_535) {
            group.error("ssh", "is \"" + where + "\"", "Write it like this: ssh: watcher@db.example:22");
            return Optional.empty();
        }
        return Optional.of(new WatchSource.RemoteHost(name, parts.group("user"),
                parts.group("host").replaceAll("[\\[\\]]", ""), port, key, password));
    }

    private static List<WatchSource.MetricsEndpoint.Choice> choices(Fields group) {
        return group.groups("series").stream().map(one -> new WatchSource.MetricsEndpoint.Choice(one.text("select"),
                one.text("unit"), one.text("role"))).toList();
    }
}
