package kadrem.load.content;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.rehearsal.Difference;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Agreement;
import kadrem.core.study.AnswerPart;
import kadrem.core.study.Call;
import org.xmlunit.builder.DiffBuilder;
import org.xmlunit.diff.Comparison;

/**
 * Sets the answer of a candidate against the baseline's, place by place: JSON member by member, whatever their order; XML by elements,
 * attributes and texts, whatever its indentation; anything else byte by byte; one file, since each form of an answer may hold another.
 */
public final class AnswerComparison {
    private static final ObjectMapper JSON = new ObjectMapper()
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS);
    private static final int MAX_SHOWN = 120;
    /** Two answers that have nothing in common differ everywhere; so many places say enough. */
    private static final int MAX_DIFFERENCES = 50;

    private final Agreement agreement;
    private final List<JsonQuery> ignored;
    /** Whether scalars are compared by what they say: "12" is 12. */
    private final boolean byText;

    private AnswerComparison(Agreement agreement, List<JsonQuery> ignored, boolean byText) {
        this.agreement = agreement;
        this.ignored = ignored;
        this.byText = byText;
    }

    /** An answer, and which part of it is compared. */
    public record Side(RehearsedCall answer, AnswerPart part) {
    }

    /** @throws UnreadableContent if a path that is to be ignored is no JSONPath */
    public static AnswerComparison under(Agreement agreement) throws UnreadableContent {
        var queries = new ArrayList<JsonQuery>();
        for (String path : agreement.ignoredJson()) {
            queries.add(JsonQuery.of(path));
        }
        return new AnswerComparison(agreement, List.copyOf(queries), false);
    }

    /** The places where two answers to the same call differ. Answers that did not come are not compared. */
    public List<Difference> compare(String candidate, RehearsedCall baseline, RehearsedCall other) {
        if (baseline.status() == 0 || other.status() == 0) {
            return List.of();
        }
        var found = new Places(baseline.call(), candidate);
        if (baseline.status() != other.status()) {
            found.add("status", Integer.toString(baseline.status()), Integer.toString(other.status()));
        }
        headers(found, baseline, other);
        bodies(found, baseline, other);
        return List.copyOf(found.list);
    }

    /**
     * The places where two answers to the same call differ that were asked for in different protocols: of each the part that is
     * compared, under the names that its members are compared under. What is a number in one language may be a text in another.
     */
    public List<Difference> compareAcross(String candidate, Side baseline, Side other) {
        if (baseline.answer().status() == 0 || other.answer().status() == 0) {
            return List.of();
        }
        var found = new Places(baseline.answer().call(), candidate);
        try {
            new AnswerComparison(agreement, ignored, true).json(found, "$", part(baseline), part(other));
        } catch (IOException | UnreadableContent cause) {
            found.add("body", "", "cannot be compared: " + cause.getMessage());
        }
        return List.copyOf(found.list);
    }

    private JsonNode part(Side side) throws IOException, UnreadableContent {
        // an answer that is no more than its status has no members
        JsonNode all = side.answer().decoded().size() == 0
                ? JSON.createObjectNode()
                : tree(side.answer().decoded().toArray());
        String at = side.part().at();
        return named(at.equals("$") ? all : at(all, at), side.part().names());
    }

    /** What a path finds: the one value of a path to a single place, otherwise an array of all values. */
    private static JsonNode at(JsonNode all, String path) throws IOException, UnreadableContent {
        JsonQuery query = JsonQuery.of(path);
        JsonQuery.Document document = JsonQuery.Document.of(JSON.writeValueAsBytes(all));
        boolean several = path.matches(".*(\\*|\\.\\.|[?:,]).*");
        List<String> found = query.all(document);
        if (found.isEmpty() || !several && query.first(document).isEmpty()) {
            throw new UnreadableContent("nothing stands at " + path + " of an answer");
        }
        return JSON.readTree(several ? found.toString() : found.getFirst());
    }

    private static JsonNode named(JsonNode node, Map<String, String> names) {
        if (node.isArray()) {
            var array = JSON.createArrayNode();
            node.forEach(item -> array.add(named(item, names)));
            return array;
        }
        if (!node.isObject()) {
            return node;
        }
        var object = JSON.createObjectNode();
        node.properties().forEach(member -> {
            String name = names.getOrDefault(member.getKey(), member.getKey());
            if (!name.isEmpty()) {
                object.set(name, named(member.getValue(), names));
            }
        });
        return object;
    }

    /** The differences found so far. */
    private static final class Places {
        private final String call;
        private final String candidate;
        private final List<Difference> list = new ArrayList<>();

        Places(String call, String candidate) {
            this.call = call;
            this.candidate = candidate;
        }

        void add(String where, String baseline, String value) {
            if (list.size() < MAX_DIFFERENCES) {
                list.add(new Difference(call, candidate, where, cut(baseline), cut(value)));
            }
        }

        private static String cut(String text) {
            return text.length() > MAX_SHOWN ? text.substring(0, MAX_SHOWN) + "…" : text;
        }
    }

    private void headers(Places found, RehearsedCall baseline, RehearsedCall other) {
        Map<String, String> expected = comparable(baseline);
        Map<String, String> actual = comparable(other);
        Set<String> names = new LinkedHashSet<>(expected.keySet());
        names.addAll(actual.keySet());
        for (String name : names) {
            String one = expected.getOrDefault(name, "");
            String two = actual.getOrDefault(name, "");
            if (!one.equals(two)) {
                found.add("header " + name, one, two);
            }
        }
    }

    private Map<String, String> comparable(RehearsedCall call) {
        var headers = new LinkedHashMap<String, String>();
        for (Call.Header header : call.headers()) {
            if (!agreement.ignoresHeader(header.name())) {
                headers.merge(header.name().toLowerCase(Locale.ROOT), header.value(), (a, b) -> a + ", " + b);
            }
        }
        return headers;
    }

    private void bodies(Places found, RehearsedCall baseline, RehearsedCall other) {
        byte[] one = baseline.decoded().toArray();
        byte[] two = other.decoded().toArray();
        if (java.util.Arrays.equals(one, two)) {
            return;
        }
        if (isOf(baseline, "json") && isOf(other, "json")) {
            try {
                json(found, "$", tree(one), tree(two));
                return;
            } catch (IOException | UnreadableContent _) {
                // not what they say they are: compared as bytes
            }
        }
        if (isOf(baseline, "xml") && isOf(other, "xml") && xml(found, one, two)) {
            return;
        }
        found.add("body", new String(one, StandardCharsets.UTF_8), new String(two, StandardCharsets.UTF_8));
    }

    private static boolean isOf(RehearsedCall call, String kind) {
        return call.header("Content-Type").toLowerCase(Locale.ROOT).contains(kind);
    }

    private JsonNode tree(byte[] json) throws IOException, UnreadableContent {
        byte[] rest = json;
        for (JsonQuery query : ignored) {
            rest = query.without(rest).getBytes(StandardCharsets.UTF_8);
        }
        return JSON.readTree(rest);
    }

    private void json(Places found, String where, JsonNode one, JsonNode two) {
        if (one.isObject() && two.isObject()) {
            Set<String> names = new LinkedHashSet<>();
            one.fieldNames().forEachRemaining(names::add);
            two.fieldNames().forEachRemaining(names::add);
            for (String name : names) {
                String below = where + member(name);
                if (!one.has(name) || !two.has(name)) {
                    found.add(below, one.has(name) ? shown(one.get(name)) : "",
                            two.has(name) ? shown(two.get(name)) : "");
                } else {
                    json(found, below, one.get(name), two.get(name));
                }
            }
        } else if (one.isArray() && two.isArray()) {
            if (agreement.arraysAsSets()) {
                sets(found, where, one, two);
            } else {
                arrays(found, where, one, two);
            }
        } else if (!same(one, two)) {
            found.add(where, shown(one), shown(two));
        }
    }

    private static String member(String name) {
        return name.matches("[A-Za-z_][A-Za-z0-9_]*")
                ? "." + name
                : "['" + name.replace("\\", "\\\\").replace("'", "\\'") + "']";
    }

    private void arrays(Places found, String where, JsonNode one, JsonNode two) {
        for (int i = 0; i < Math.max(one.size(), two.size()); i++) {
            String below = where + "[" + i + "]";
            if (i >= one.size() || i >= two.size()) {
                found.add(below, i < one.size() ? shown(one.get(i)) : "", i < two.size() ? shown(two.get(i)) : "");
            } else {
                json(found, below, one.get(i), two.get(i));
            }
        }
    }

    /** Elements are paired off; what finds no partner is a difference. */
    private void sets(Places found, String where, JsonNode one, JsonNode two) {
        var left = new ArrayList<JsonNode>();
        two.forEach(left::add);
        for (int i = 0; i < one.size(); i++) {
            JsonNode wanted = one.get(i);
            boolean paired = false;
            for (int j = 0; j < left.size() && !paired; j++) {
                if (same(wanted, left.get(j))) {
                    left.remove(j);
                    paired = true;
                }
            }
            if (!paired) {
                found.add(where + "[" + i + "]", shown(wanted), "");
            }
        }
        left.forEach(extra -> found.add(where + "[*]", "", shown(extra)));
    }

    private boolean same(JsonNode one, JsonNode two) {
        if (byText && one.isValueNode() && two.isValueNode() && one.getNodeType() != two.getNodeType()) {
            return one.asText().equals(two.asText());
        }
        if (one.isNumber() && two.isNumber()) {
            double a = one.doubleValue();
            double b = two.doubleValue();
            return one.decimalValue().compareTo(two.decimalValue()) == 0
                    || Math.abs(a - b) <= agreement.tolerance() * Math.max(Math.abs(a), Math.abs(b));
        }
        if (one.isContainerNode() && two.isContainerNode()) {
            var inner = new Places("", "");
            json(inner, "", one, two);
            return inner.list.isEmpty() && one.isObject() == two.isObject();
        }
        return one.equals(two);
    }

    private static String shown(JsonNode node) {
        return node.isTextual() ? "\"" + node.textValue() + "\"" : node.toString();
    }

    /** Whether both could be read. */
    private static boolean xml(Places found, byte[] one, byte[] two) {
        try {
            var diff = DiffBuilder.compare(XmlQuery.document(one)).withTest(XmlQuery.document(two)).ignoreComments()
                    .normalizeWhitespace().checkForSimilar().build();
            diff.getDifferences().forEach(difference -> {
                Comparison comparison = difference.getComparison();
                Comparison.Detail expected = comparison.getControlDetails();
                Comparison.Detail actual = comparison.getTestDetails();
                String where = expected.getXPath() == null ? actual.getXPath() : expected.getXPath();
                found.add(where == null ? "body" : where, String.valueOf(expected.getValue()),
                        String.valueOf(actual.getValue()));
            });
            return true;
        } catch (UnreadableContent _) {
            return false;
        }
    }
}
