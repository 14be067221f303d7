package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.WatchSource;

/**
 * A source of the host watch as one line of words: "jvm launched", "process FILE", "cgroup FOLDER",
 * "ssh USER@HOST:PORT key FILE password REFERENCE", "metrics ADDRESS SERIES …", "sql ADDRESS USER PASSWORD QUERY COUNTER …" with
 * a hyphen for what is not needed; a name other than the kind stands last, as "called NAME".
 */
final class WatchText {
    static final String HINT = "jvm launched · ssh user@host:22 key FILE · metrics ADDRESS SERIES … · process FILE"
            + " · cgroup FOLDER · sql …";
    private static final String CALLED = "called";
    private static final String NOT_NEEDED = "-";

    private WatchText() {
    }

    static String write(WatchSource source) {
        var words = new ArrayList<String>(List.of(source.kind()));
        switch (source) {
            case WatchSource.ProcessTree tree -> words.add(tree.which());
            case WatchSource.ControlGroup group -> words.add(group.folder());
            case WatchSource.JavaMachine machine -> words.add(machine.address().orElse("launched"));
            case WatchSource.RemoteHost remote -> {
                words.add(remote.where());
                remote.key().ifPresent(file -> words.addAll(List.of("key", file)));
                if (!remote.password().isEmpty()) {
                    words.addAll(List.of("password", remote.password()));
                }
            }
            case WatchSource.MetricsEndpoint endpoint -> {
                words.add(endpoint.address());
                endpoint.series().forEach(choice -> words.add(choice.select()));
            }
            case WatchSource.Counters counters -> {
                words.addAll(List.of(counters.database(), orHyphen(counters.user()), orHyphen(counters.password()),
                        counters.query()));
                words.addAll(counters.counters());
            }
        }
        if (!source.name().equals(source.kind())) {
            words.addAll(List.of(CALLED, source.name()));
        }
        return Attribute.words(words);
    }

    private static String orHyphen(String text) {
        return text.isEmpty() ? NOT_NEEDED : text;
    }

    /**
     * The group of the study file that the words mean; empty for no words. What is wrong in it the study's own check tells.
     *
     * @param before the source that was there, whose units and roles stay with their series
     */
    static Optional<Map<String, Object>> read(String text, Optional<WatchSource> before) {
        List<String> words = Attribute.split(text);
        if (words.isEmpty()) {
            return Optional.empty();
        }
        Map<String, Object> group = new LinkedHashMap<>();
        int called = words.size() > 3 ? words.lastIndexOf(CALLED) : -1;
        if (called > 1 && called == words.size() - 2) {
            group.put("name", words.get(called + 1));
            words = words.subList(0, called);
        }
        String kind = words.getFirst();
        List<String> rest = words.subList(1, words.size());
        String first = rest.isEmpty() ? "" : rest.getFirst();
        switch (kind) {
            case "ssh" -> {
                group.put(kind, first);
                for (int i = 1; i + 1 < rest.size(); i += 2) {
                    group.put(rest.get(i), rest.get(i + 1));
                }
            }
            case "metrics" -> {
                group.put(kind, first);
                group.put("series", rest.stream().skip(1).map(select -> choice(select, before)).toList());
            }
            case "sql" -> {
                group.put("database", first);
                putUnlessHyphen(group, "user", rest, 1);
                putUnlessHyphen(group, "password", rest, 2);
                group.put(kind, rest.size() > 3 ? rest.get(3) : "");
                if (rest.size() > 4) {
                    group.put("counters", List.copyOf(rest.subList(4, rest.size())));
                }
            }
            default -> group.put(kind, first);
        }
        return Optional.of(group);
    }

    private static void putUnlessHyphen(Map<String, Object> group, String name, List<String> rest, int place) {
        if (place < rest.size() && !rest.get(place).equals(NOT_NEEDED)) {
            group.put(name, rest.get(place));
        }
    }

    private static Map<String, Object> choice(String select, Optional<WatchSource> before) {
        Map<String, Object> choice = new LinkedHashMap<>();
        choice.put("select", select);
        before.filter(WatchSource.MetricsEndpoint.class::isInstance).map(WatchSource.MetricsEndpoint.class::cast)
                .flatMap(one -> one.series().stream().filter(known -> known.select().equals(select)).findFirst())
                .ifPresent(known -> {
                    if (!known.unit().isEmpty()) {
                        choice.put("unit", known.unit());
                    }
                    choice.put("role", known.role());
                });
        return choice;
    }
}
