package kadrem.files.imports.log;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.files.imports.Naming;
import org.jspecify.annotations.Nullable;

/** A call of a log: its address with value lists where addresses of its kind differ. */
final class LoggedCall {
    private final Kind kind;
    /** By place: the list of its values; null where all have the same. */
    private final List<@Nullable LoggedList> lists = new ArrayList<>();
    private final List<String> secrets = new ArrayList<>();
    private String name = "";
    private String target = "";

    /** What a line of the log makes: a call, and the values of its lists by their names. */
    record Arrival(LoggedCall call, Map<String, String> values) {
    }

    /**
     * @param byStem lists by where their values stand, shared by all calls; what is new is added
     * @param keep see {@link LogChoice}
     */
    LoggedCall(Kind kind, Map<String, LoggedList> byStem, Set<String> keep) {
        this.kind = kind;
        Map<String, Integer> times = new HashMap<>();
        for (Kind.Place place : kind.places) {
            boolean kept = keep.contains(place.stem);
            boolean fixed = place.isFixed() || place.values.isSecret()
                    || place.values.isOne() && (kept || !place.values.isPersonal());
            if (fixed) {
                lists.add(null);
                continue;
            }
            String stem = place.stem.isEmpty() ? "id" : place.stem;
            int time = times.merge(stem, 1, Integer::sum);
            LoggedList list = byStem.computeIfAbsent((place.parameter ? "?" : "/") + stem + "/" + time,
                    _ -> new LoggedList(stem, kept));
            list.add(place.values);
            lists.add(list);
        }
    }

    void conclude(Set<String> takenNames) {
        var stands = new ArrayList<String>();
        for (int i = 0; i < kind.places.size(); i++) {
            Kind.Place place = kind.places.get(i);
            LoggedList list = lists.get(i);
            if (list != null) {
                stands.add("{{" + list.name() + "}}");
            } else if (place.values.isSecret() && !place.isFixed()) {
                String variable = "KADREM_" + (place.stem.isEmpty() ? "CREDENTIAL" : place.stem)
                        .replaceAll("[^A-Za-z0-9]+", "_").toUpperCase(Locale.ROOT);
                secrets.add(variable);
                stands.add("{{env:" + variable + "}}");
            } else {
                stands.add(place.isFixed() ? "" : encoded(place.values.seen().iterator().next()));
            }
        }
        target = kind.target(stands);
        // calls of one path are told apart by what they ask
        String stem = Naming.ofCall(kind.method, target);
        String asked = kind.places.stream().filter(place -> place.parameter).map(place -> place.stem)
                .collect(Collectors.joining("-"));
        name = Naming.unused(
                takenNames.contains(stem) && !asked.isEmpty() ? Naming.word(stem + "-by-" + asked) : stem, takenNames);
    }

    private static String encoded(String value) {
        return java.net.URLEncoder.encode(value, java.nio.charset.StandardCharsets.UTF_8).replace("+", "%20");
    }

    Arrival arrival(Address address) {
        Map<String, String> values = new LinkedHashMap<>();
        for (int i = 0; i < lists.size(); i++) {
            LoggedList list = lists.get(i);
            if (list != null) {
                values.put(list.name(), list.sent(kind.value(address, i)));
            }
        }
        return new Arrival(this, values);
    }

    String name() {
        return name;
    }

    long count() {
        return kind.count;
    }

    /** Variables that have to hold the credentials of its address. */
    List<String> secrets() {
        return secrets;
    }

    /** "GET /berths/{{berths}}". */
    String words() {
        return kind.method + " " + target;
    }

    /** As a visit of a study; where the log has redirects they are expected, too. */
    Map<String, Object> visit() {
        Map<String, Object> call = new LinkedHashMap<>();
        call.put("name", name);
        call.put("method", kind.method);
        call.put("path", target);
        List<String> redirects = kind.redirects.stream().filter(status -> status != 304).map(String::valueOf).toList();
        if (!redirects.isEmpty()) {
            call.put("expect", Stream.concat(Stream.of("200-299"), redirects.stream()).toList());
        }
        Map<String, Object> visit = new LinkedHashMap<>();
        visit.put("name", name);
        visit.put("share", kind.count);
        visit.put("calls", List.of(call));
        return visit;
    }
}
