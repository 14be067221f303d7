package kadrem.files.study;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import kadrem.core.study.AnswerPart;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.Expectations.Expectation;
import kadrem.core.study.Form;
import kadrem.core.study.Protocols;
import kadrem.core.study.StatusSet;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.core.study.grammar.Kind;
import kadrem.core.study.grammar.Words;

/** From the fields below {@code workload} to a {@link Workload}. */
final class WorkloadReader {
    private static final JsonFactory JSON = new JsonFactory();
    private static final Kind WHOLE = new Kind.Whole(-Long.MAX_VALUE, Long.MAX_VALUE);

    private static final String PARTS = "parts";

    private final FileContents files;
    private CallDefaults defaults = CallDefaults.NONE;

    WorkloadReader(FileContents files) {
        this.files = files;
    }

    Workload read(Fields fields) {
        List<ValueList> values = fields.groups("values").stream().map(this::valueList).toList();
        fields.optionalGroup("defaults").ifPresent(group -> defaults = new CallDefaults(group.pairs("headers"),
                timeout(group), thinkTime(group), expectations(group)));
        List<Call> first = fields.groups("first").stream().map(this::call).toList();
        List<Visit> visits = fields.groups("visits").stream().map(this::visit).toList();
        return new Workload(values, first, visits,
                oneOf(fields, "choose", Workload.Choice.values(), Workload.Choice::id));
    }

    /** The defaults of the workload read last. */
    CallDefaults defaults() {
        return defaults;
    }

    private static <E extends Enum<E>> E oneOf(Fields fields, String name, E[] all, Function<E, String> id) {
        return fields.choice(name, text -> Stream.of(all).filter(one -> id.apply(one).equals(text)).findFirst())
                .orElse(all[0]);
    }

    private ValueList valueList(Fields fields) {
        String name = fields.text("name");
        ValueList list = switch (fields.optional("kind").orElse(fields.has("file") ? "column" : "numbers")) {
            case "column" -> {
                String file = fields.text("file");
                String column = fields.optional("column").orElse(name);
                yield new ValueList.Listed(name, file, column, files.column(fields, file, column));
            }
            case "zipf" -> new ValueList.Zipf(name, fields.has("from") ? whole(fields, "from") : 1, whole(fields, "to"),
                    fields.number("exponent"), ValueList.Draw.USUAL);
            case "pick" -> new ValueList.Listed(name, "", "", fields.texts("of"));
            case "uuid" -> new ValueList.Uuid(name, ValueList.Draw.USUAL);
            case "text" -> new ValueList.Text(name, fields.count("length"), ValueList.Draw.USUAL);
            case "timestamp" -> new ValueList.Timestamp(name, instant(fields, "from"), instant(fields, "to"),
                    fields.text("as").equals("seconds"), ValueList.Draw.USUAL);
            default -> new ValueList.NumberRange(name, whole(fields, "from"), whole(fields, "to"));
        };
        return list.drawn(new ValueList.Draw(oneOf(fields, "order", ValueList.Order.values(), ValueList.Order::id),
                oneOf(fields, "keep", ValueList.Keep.values(), ValueList.Keep::id)));
    }

    private static void needed(Fields fields, String name, String example) {
        if (fields.optional(name).isEmpty()) {
            fields.error(name, "is missing", "Add " + name + ": " + example);
        }
    }

    private static long whole(Fields fields, String name) {
        needed(fields, name, "2400");
        return fields.as(name, WHOLE, "2400", Words::whole).orElse(1L);
    }

    private static Instant instant(Fields fields, String name) {
        needed(fields, name, "2026-07-01T00:00:00Z");
        return fields.optional(name).map(text -> {
            try {
                return Instant.parse(text);
            } catch (DateTimeException _) {
                fields.error(name, "is \"" + text + "\"", "Write it like this: " + name + ": 2026-07-01T00:00:00Z");
                return Instant.EPOCH;
            }
        }).orElse(Instant.EPOCH);
    }

    private Visit visit(Fields fields) {
        return new Visit(fields.text("name"), fields.number("share"), fields.count("repeat"),
                fields.groups("calls").stream().map(this::call).toList());
    }

    private Call call(Fields fields) {
        List<Form> forms = forms(fields);
        // a call that is asked in another protocol alone has no path
        if (forms.isEmpty()) {
            needed(fields, "path", "/berths/7");
        }
        return new Call(fields.text("name"), fields.text("method").toUpperCase(Locale.ROOT), fields.text("path"),
                headers(fields), body(fields),
                expectations(fields).or(() -> defaults.expected()).orElse(Expectations.ANY_SUCCESS), captures(fields),
                timeout(fields).or(() -> defaults.timeout()), thinkTime(fields).or(() -> defaults.thinkTime()), forms,
                answer(fields).orElse(AnswerPart.WHOLE));
    }

    /** The groups in which the call is asked in other protocols. */
    private List<Form> forms(Fields fields) {
        return Protocols.all().stream().filter(protocol -> !protocol.isCallsOwnForm())
                .flatMap(protocol -> fields.optionalGroup(protocol.id())
                        .map(group -> new Form(protocol.id(), group.known(protocol.fields()), expectations(group),
                                group.has("capture") ? Optional.of(captures(group)) : Optional.empty(), answer(group)))
                        .stream())
                .toList();
    }

    /** {@code answer: {at: $.rows, names: {berth_id: id}}}. */
    private static Optional<AnswerPart> answer(Fields fields) {
        return fields.optionalGroup("answer").map(group -> new AnswerPart(group.text("at"), group.pairs("names")));
    }

    private static Optional<Duration> timeout(Fields fields) {
        return fields.has("timeout") ? Optional.of(fields.time("timeout")) : Optional.empty();
    }

    static Optional<ThinkTime> thinkTime(Fields fields) {
        return fields.optional("thinkTime").map(text -> ThinkTimes.parse(text).orElseGet(() -> {
            fields.error("thinkTime", "is \"" + text + "\"", "Write the shorter time first, and times above 0.");
            return ThinkTime.NONE;
        }));
    }

    /** The headers of the call, and those defaults that it does not give itself. */
    private List<Call.Header> headers(Fields fields) {
        var named = new LinkedHashMap<String, Call.Header>();
        defaults.headers().forEach((name, value) -> named.put(name.toLowerCase(Locale.ROOT),
                header(fields, name, value)));
        fields.pairs("headers").forEach(
                (name, value) -> named.put(name.toLowerCase(Locale.ROOT), header(fields, name, value)));
        return List.copyOf(named.values());
    }

    private static Call.Header header(Fields fields, String name, String value) {
        if (!name.matches("[!#$%&'*+.^_`|~0-9A-Za-z-]+") || value.matches("(?s).*[\\r\\n\\x00].*")) {
            fields.error("headers", "holds a name or value that may not stand in a header (" + name + ")",
                    "Use a token as name and a single line as value (RFC 9110, section 5).");
            return new Call.Header("x-invalid", "");
        }
        return new Call.Header(name, value);
    }

    private Body body(Fields fields) {
        Optional<String> type = fields.optional("bodyType");
        if (fields.has("form")) {
            return new Body.Form(fields.pairs("form").entrySet().stream()
                    .map(entry -> new Body.Field(entry.getKey(), entry.getValue())).toList());
        }
        if (fields.has(PARTS)) {
            return new Body.Multipart(
                    fields.groups(PARTS).stream().map(part -> new Body.Part(part.text("name"), body(part))).toList());
        }
        if (fields.has("file")) {
            return new Body.FromFile(fields.text("file"), type.orElse("application/octet-stream"),
                    files.content(fields, "file"));
        }
        String text = fields.optional("body").orElse("");
        Body.Kind kind = type.isPresent()
                ? oneOfKinds(fields)
                : Body.Kind.guess(text);
        if (kind == Body.Kind.NDJSON) {
            return new Body.Text(kind, lines(fields, text));
        }
        return text.isEmpty() ? Body.NONE : new Body.Text(kind, text);
    }

    /** Each line is a JSON value by itself, whatever its placeholders stand for, and the last one is ended too. */
    private static String lines(Fields fields, String text) {
        int number = 0;
        for (String line : text.split("\\R")) {
            number++;
            // a placeholder may stand for a number or inside a text: 0 is right in both places
            String filled = line.replaceAll("\\{\\{[^{}]*}}", "0");
            try (JsonParser parser = JSON.createParser(filled)) {
                while (parser.nextToken() != null) {
                    parser.skipChildren();
                }
            } catch (IOException cause) {
                fields.error("body", "has no JSON in its line " + number + ": "
                        + (cause instanceof JsonProcessingException wrong ? wrong.getOriginalMessage() : cause),
                        "Write one JSON value a line (newline-delimited JSON).");
            }
        }
        return text.endsWith("\n") ? text : text + "\n";
    }

    private static Body.Kind oneOfKinds(Fields fields) {
        List<String> known = Stream.of(Body.Kind.values()).map(Body.Kind::id).toList();
        return fields.as("bodyType", new Kind.Choice(known), "json",
                text -> Stream.of(Body.Kind.values()).filter(kind -> kind.id().equals(text)).findFirst())
                .orElse(Body.Kind.TEXT);
    }

    /** {@code expect}: a list of statuses, or a group with more. Empty where the field is not there. */
    private Optional<Expectations> expectations(Fields fields) {
        if (!fields.has("expect")) {
            return Optional.empty();
        }
        return fields.isList("expect")
                ? Optional.of(Expectations.of(statuses(fields, "expect")))
                : fields.optionalGroup("expect").map(this::expected);
    }

    private Expectations expected(Fields group) {
        var content = new ArrayList<Expectation>();
        Optional<Duration> within = group.has("within") ? Optional.of(group.time("within")) : Optional.empty();
        group.pairs("headers").forEach((name, text) -> content.add(new Expectation.HeaderHolds(name, text)));
        group.texts("holds").forEach(text -> content.add(new Expectation.BodyHolds(text)));
        group.texts("matches").forEach(regex -> content.add(new Expectation.BodyMatches(regex)));
        group.pairs("json").forEach((path, text) -> content.add(new Expectation.JsonValue(path, some(text))));
        group.texts("jsonMissing").forEach(path -> content.add(new Expectation.NoJsonValue(path)));
        group.pairs("xml").forEach((path, text) -> content.add(new Expectation.XmlValue(path, some(text))));
        group.optional("schema").ifPresent(file -> {
            byte[] schema = files.content(group, "schema").toArray();
            content.add(new Expectation.JsonSchema(file,
                    schema.length == 0 ? "{}" : new String(schema, StandardCharsets.UTF_8)));
        });
        group.optionalGroup("size").ifPresent(size -> content.add(new Expectation.Size(
                size.has("least") ? size.whole("least") : 0, size.has("most") ? size.whole("most") : Long.MAX_VALUE)));
        group.optional("sha256").ifPresent(hash -> content.add(new Expectation.Hash(hash)));
        return new Expectations(statuses(group, "status"), within, content);
    }

    private static Optional<String> some(String text) {
        return text.isEmpty() ? Optional.empty() : Optional.of(text);
    }

    private static StatusSet statuses(Fields fields, String name) {
        var ranges = new ArrayList<StatusSet.Range>();
        for (String status : fields.texts(name)) {
            String[] ends = status.split("-", 2);
            Optional<Long> from = Words.whole(ends[0]);
            Optional<Long> to = Words.whole(ends[ends.length - 1]);
            if (from.isPresent() && to.isPresent()) {
                ranges.add(new StatusSet.Range(from.get().intValue(), to.get().intValue()));
            }
        }
        return new StatusSet(ranges);
    }

    private static List<Capture> captures(Fields fields) {
        var captures = new ArrayList<Capture>();
        fields.named("capture").forEach((name, place) -> source(place)
                .ifPresent(source -> captures.add(new Capture(name, source))));
        return captures;
    }

    private static Optional<Capture.Source> source(Fields source) {
        return source.optional("json").<Capture.Source>map(Capture.Source.Json::new)
                .or(() -> source.optional("xml").map(Capture.Source.Xml::new))
                .or(() -> source.optional("pattern").map(Capture.Source.Pattern::new))
                .or(() -> source.optional("header").map(Capture.Source.Header::new))
                .or(() -> source.optional("cookie").map(Capture.Source.Cookie::new));
    }
}
