package kadrem.files.imports.log;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

import kadrem.files.imports.ImportException;
import kadrem.files.imports.Naming;

/**
 * What a log asks for. Its lines are looked at twice: first kinds of addresses are found, and what differs in them; then each line is told
 * as a call with its values. What is kept in memory does not grow with the number of lines beyond fixed bounds.
 */
final class Traffic {
    /** Kinds of addresses that are told apart; what comes beyond is left out, and said. */
    private static final int MOST_KINDS = 50_000;
    /** Words in one place of otherwise like addresses from which on they are values. */
    private static final int MOST_WORDS = 30;

    private final LogChoice choice;
    private final Map<String, Kind> kinds = new HashMap<>();
    private final Map<String, Long> leftOut = new LinkedHashMap<>();
    private final List<LoggedCall> calls = new ArrayList<>();
    private final Map<Kind, LoggedCall> byKind = new HashMap<>();
    private final List<LoggedList> lists = new ArrayList<>();
    private long taken;

    Traffic(LogChoice choice) {
        this.choice = choice;
    }

    /** Why a line is left out; empty for one that is taken. */
    private Optional<String> refused(LogLine line) {
        if (!choice.methods().contains(line.method())) {
            return Optional.of(line.method() + " (their bodies are in no log)");
        }
        if (line.status() >= 400 && !choice.failed()) {
            return Optional.of("that were answered " + line.status() / 100 + "xx");
        }
        return Optional.empty();
    }

    /** The first look at a line. */
    void add(LogLine line) {
        Optional<String> refused = refused(line);
        Optional<Address> address = refused.isPresent() ? Optional.empty() : Address.of(line);
        if (address.isEmpty()) {
            leaveOut(refused.orElse("whose address may not stand in a study"));
            return;
        }
        String key = address.get().key();
        Kind kind = kinds.get(key);
        if (kind == null) {
            if (kinds.size() >= MOST_KINDS) {
                leaveOut("of more than " + MOST_KINDS + " kinds of addresses");
                return;
            }
            kind = Kind.of(address.get());
            kinds.put(key, kind);
        }
        kind.add(address.get(), line.status());
        taken++;
    }

    void leaveOut(String why) {
        leftOut.merge(why, 1L, Long::sum);
    }

    /** Ends the first look: kinds become calls, of which those that come most often stay. */
    void conclude(Set<String> takenNames, Set<String> takenLists) throws ImportException {
        together();
        List<Kind> found = new HashSet<>(kinds.values()).stream()
                .sorted(Comparator.comparingLong((Kind kind) -> -kind.count).thenComparing(kind -> kind.without(-1)))
                .toList();
        var byStem = new LinkedHashMap<String, LoggedList>();
        for (Kind kind : found) {
            if (calls.size() >= choice.most()) {
                leftOut.merge("of rare addresses", kind.count, Long::sum);
                taken -= kind.count;
                continue;
            }
            var call = new LoggedCall(kind, byStem, choice.keep());
            calls.add(call);
            byKind.put(kind, call);
        }
        for (LoggedList list : byStem.values()) {
            list.conclude(Naming.unused(Naming.word(list.stem()), takenLists));
            lists.add(list);
        }
        for (LoggedCall call : calls) {
            call.conclude(takenNames);
        }
    }

    /** Many words in one place of addresses that are otherwise alike are values, such as names of goods. */
    private void together() {
        int longest = kinds.values().stream().mapToInt(Kind::parts).max().orElse(0);
        for (int part = longest - 1; part >= 0; part--) {
            Map<String, List<Kind>> alike = new HashMap<>();
            for (Kind kind : new HashSet<>(kinds.values())) {
                if (part < kind.parts() && !kind.places.get(part).text.isEmpty()) {
                    alike.computeIfAbsent(kind.without(part), _ -> new ArrayList<>()).add(kind);
                }
            }
            Map<Kind, Kind> instead = new HashMap<>();
            for (List<Kind> group : alike.values()) {
                if (group.size() > MOST_WORDS) {
                    Kind one = Kind.together(group, part);
                    group.forEach(kind -> instead.put(kind, one));
                }
            }
            kinds.replaceAll((_, kind) -> instead.getOrDefault(kind, kind));
        }
    }

    /** The second look at a line: the call that it makes, with what it says at each of the call's lists. */
    Optional<LoggedCall.Arrival> arrival(LogLine line) {
        if (refused(line).isPresent()) {
            return Optional.empty();
        }
        return Address.of(line).flatMap(address -> Optional.ofNullable(kinds.get(address.key()))
                .flatMap(kind -> Optional.ofNullable(byKind.get(kind))).map(call -> call.arrival(address)));
    }

    List<LoggedCall> calls() {
        return calls;
    }

    List<LoggedList> lists() {
        return lists;
    }

    /** How many lines were left out, by reason. */
    Map<String, Long> leftOut() {
        return leftOut;
    }

    /** Lines that are calls of the study. */
    long taken() {
        return taken;
    }
}
