package kadrem.files.imports;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import kadrem.core.gate.Credentials;
import kadrem.core.study.Call;

/**
 * Recognises a log-in among calls: a text of one answer that later requests carry as their credential. The later ones get a placeholder in
 * its place, and the earlier call captures it.
 */
final class LogIns {
    /** Headers that may carry a credential: common practice, no source. */
    private static final Pattern CARRIER = Pattern
            .compile("(?i)x-.*|.*(auth|token|session|csrf|xsrf|key|secret|signature).*");
    private static final Pattern PIECE = Pattern.compile("[^\\s,;=\"]+=*");

    /** Where a text was given. */
    private record Place(int call, String path) {
    }

    private final List<FoundCall> calls;
    private final Set<String> said;
    private final Map<String, Place> given = new HashMap<>();
    /** Names of what is captured, by the texts. */
    private final Map<String, String> names = new HashMap<>();

    private LogIns(List<FoundCall> calls, Set<String> said) {
        this.calls = new ArrayList<>(calls);
        this.said = said;
    }

    /** @param said given a sentence for each text that is carried, with both places */
    static List<FoundCall> linked(List<FoundCall> calls, Set<String> said) {
        var logIns = new LogIns(calls, said);
        for (int i = 0; i < calls.size(); i++) {
            logIns.link(i);
        }
        return logIns.calls;
    }

    private void link(int at) {
        FoundCall call = calls.get(at);
        String where = Imported.where(call);
        var headers = new ArrayList<Call.Header>();
        call.headers().forEach(header -> headers.add(new Call.Header(header.name(),
                CARRIER.matcher(header.name()).matches()
                        ? pieces(header.name(), header.value(), where + ", header " + header.name())
                        : header.value())));
        FoundCall linked = call.with(credentials(call.target(), where + ", address"), headers,
                credentials(call.body(), where + ", body"));
        calls.set(at, linked);
        call.answer().values().forEach((text, path) -> given.putIfAbsent(text, new Place(at, path)));
    }

    /** In such a header any piece may be what an answer gave. */
    private String pieces(String header, String text, String where) {
        Matcher matcher = PIECE.matcher(text);
        return matcher.replaceAll(found -> Matcher.quoteReplacement(
                given.containsKey(found.group()) ? captured(found.group(), header, where) : found.group()));
    }

    /** In addresses and bodies only what looks like a credential is: other texts of answers are what calls are about. */
    private String credentials(String text, String where) {
        var linked = new StringBuilder();
        int from = 0;
        for (Credentials.Find find : Credentials.in(text)) {
            String value = text.substring(find.begin(), find.end());
            linked.append(text, from, find.begin())
                    .append(given.containsKey(value) ? captured(value, find.name(), where) : value);
            from = find.end();
        }
        return linked.append(text, from, text.length()).toString();
    }

    private String captured(String text, String carrier, String where) {
        Place place = given.get(text);
        if (place == null) {
            return text;
        }
        FoundCall giver = calls.get(place.call());
        String name = names.computeIfAbsent(text, _ -> name(place.path(), carrier));
        calls.set(place.call(), giver.capturing(name, place.path()));
        said.add(
                "the text at " + place.path() + " of the answer to " + Imported.where(giver) + " is carried by " + where
                        + ": it is captured as {{" + name + "}}, and " + Imported.where(giver)
                        + " is made once by each user, before its first visit");
        return "{{" + name + "}}";
    }

    /** By the last name of its path, or by what carries it. */
    private String name(String path, String carrier) {
        String last = path.replaceAll("\\[\\d+]", "").replaceAll("^.*[.']([^.']+)'?]?$", "$1");
        String stem = (last.startsWith("$") ? carrier : last).replaceAll("[^A-Za-z0-9]+", "_").replaceAll("^_|_$", "")
                .toLowerCase(Locale.ROOT);
        String name = stem.isEmpty() ? "token" : stem;
        for (int i = 2; names.containsValue(name); i++) {
            name = stem + i;
        }
        return name;
    }
}
