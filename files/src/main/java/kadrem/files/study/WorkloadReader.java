package kadrem.files.study;

import java.io.IOException;
import java.io.Reader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import kadrem.core.study.AnswerPart;
import kadrem.core.study.Body;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.core.study.CallField;
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
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/** From the fields below {@code workload} to a {@link Workload}. */
final class WorkloadReader {
    private static final long MOST_ROWS = 1_000_000;
    private static final long MOST_FILE_BYTES = 64L * 1024 * 1024;
    private static final Pattern STATUS = Pattern.compile("([1-9]\\d\\d)(?:-([1-9]\\d\\d))?");

    private static final JsonFactory JSON = new JsonFactory();

    private final Path folder;
    private CallDefaults defaults = CallDefaults.NONE;

    WorkloadReader(Path folder) {
        this.folder = folder;
    }

    Workload read(Fields fields) {
        List<ValueList> values = fields.groups("values").stream().map(this::valueList).toList();
        fields.optionalGroup("defaults").ifPresent(group -> {
            defaults = new CallDefaults(group.optionalGroup("headers").map(Fields::allTexts).orElse(Map.of()),
                    timeout(group), thinkTime(group), expectations(group));
            group.warnOfUnknown();
        });
        List<Call> first = fields.groups("first").stream().map(this::call).toList();
        String choice = fields.optional("choose").orElse(Workload.Choice.BY_SHARE.id());
        List<Visit> visits = fields.groups("visits").stream().map(this::visit).toList();
        Workload.Choice known = oneOf(fields, "choose", choice, Workload.Choice.values(), Workload.Choice::id);
        return new Workload(values, first, visits, known);
    }

    /** The defaults of the workload read last. */
    CallDefaults defaults() {
        return defaults;
    }

    private static <E extends Enum<E>> E oneOf(Fields fields, String name, String text, E[] all,
            java.util.function.Function<E, String> id) {
        return Arrays.stream(all).filter(one -> id.apply(one).equals(text)).findFirst().orElseGet(() -> {
            fields.error(name, "is \"" + text + "\"",
                    "Use one of: " + String.join(", ", Arrays.stream(all).map(id).toList()) + ".");
            return all[0];
        });
    }

    private ValueList valueList(Fields fields) {
        String name = fields.text("name", "berth");
        String kind = fields.optional("kind").orElse(fields.has("file") ? "column" : "numbers");
        ValueList list = switch (kind) {
            case "column" -> {
                String file = fields.text("file", "values/days.csv");
                String column = fields.optional("column").orElse(name);
                yield new ValueList.Listed(name, file, column, rows(fields, file, column));
            }
            case "numbers" -> new ValueList.NumberRange(name, fields.integer("from", Optional.empty(), "1"),
                    fields.integer("to", Optional.empty(), "2400"));
            case "zipf" -> new ValueList.Zipf(name, fields.integer("from", Optional.of(1L), "1"),
                    fields.integer("to", Optional.empty(), "2400"),
                    fields.number("exponent", Optional.of(1.0), "1.1"), ValueList.Draw.USUAL);
            case "pick" -> new ValueList.Listed(name, "", "", fields.texts("of"));
            case "uuid" -> new ValueList.Uuid(name, ValueList.Draw.USUAL);
            case "text" -> new ValueList.Text(name, fields.smallInteger("length", Optional.of(12L), "12"),
                    ValueList.Draw.USUAL);
            case "timestamp" -> {
                String as = fields.optional("as").orElse("iso");
                if (!as.equals("iso") && !as.equals("seconds")) {
                    fields.error("as", "is \"" + as + "\"", "Use iso or seconds.");
                }
                yield new ValueList.Timestamp(name, instant(fields, "from"), instant(fields, "to"),
                        as.equals("seconds"), ValueList.Draw.USUAL);
            }
            default -> {
                fields.error("kind", "is \"" + kind + "\"",
                        "Use one of: numbers, zipf, column, pick, uuid, text, timestamp.");
                yield new ValueList.NumberRange(name, 1, 1);
            }
        };
        ValueList.Order order = oneOf(fields, "order", fields.optional("order").orElse("random"),
                ValueList.Order.values(), ValueList.Order::id);
        ValueList.Keep keep = oneOf(fields, "keep", fields.optional("keep").orElse("visit"), ValueList.Keep.values(),
                ValueList.Keep::id);
        if (!kind.equals("column")) {
            fields.passOver("file", "column");
        }
        fields.warnOfUnknown();
        return list.drawn(new ValueList.Draw(order, keep));
    }

    private static Instant instant(Fields fields, String name) {
        String text = fields.text(name, "2026-07-01T00:00:00Z");
        try {
            return text.isEmpty() ? Instant.EPOCH : Instant.parse(text);
        } catch (DateTimeException _) {
            fields.error(name, "is \"" + text + "\"", "Write it like this: " + name + ": 2026-07-01T00:00:00Z");
            return Instant.EPOCH;
        }
    }

    /** A file of the study folder; empty, and told, where it is none. */
    private Optional<Path> file(Fields fields, String field, String file) {
        Path path = folder.resolve(file).normalize();
        if (!path.startsWith(folder.normalize())) {
            fields.error(field, "is \"" + file + "\", which lies outside the study",
                    "Put the file below the study's folder.");
            return Optional.empty();
        }
        if (!Files.isRegularFile(path)) {
            fields.error(field, "is \"" + file + "\", and there is no such file in " + folder,
                    "Put the file there, or correct the name.");
            return Optional.empty();
        }
        if (!Inside.is(folder, path)) {
            fields.error(field, "is \"" + file + "\", a link to something outside the study",
                    "Put the file itself below the study's folder.");
            return Optional.empty();
        }
        return Optional.of(path);
    }

    private List<String> rows(Fields fields, String file, String column) {
        Optional<Path> found = file(fields, "file", file);
        if (found.isEmpty()) {
            return List.of("");
        }
        CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
        try (Reader reader = Files.newBufferedReader(found.get(), StandardCharsets.UTF_8);
                CSVParser records = CSVParser.parse(reader, format)) {
            if (!records.getHeaderMap().containsKey(column)) {
                fields.error("column", "is \"" + column + "\", but " + file + " has the columns "
                        + String.join(", ", records.getHeaderNames()), "Use one of them.");
                return List.of("");
            }
            var rows = new ArrayList<String>();
            for (CSVRecord row : records) {
                if (!row.isSet(column)) {
                    fields.error("file",
                            "has too few columns in line " + records.getCurrentLineNumber() + " of " + file,
                            "Complete that line.");
                    break;
                }
                rows.add(row.get(column));
                if (rows.size() > MOST_ROWS) {
                    fields.error("file", "has more than " + MOST_ROWS + " rows", "Use a shorter list.");
                    break;
                }
            }
            return rows;
        } catch (IOException | java.io.UncheckedIOException | IllegalArgumentException cause) {
            fields.error("file", "cannot be read as CSV: " + cause.getMessage(),
                    "Save it as UTF-8 text with commas and a header line (RFC 4180).");
            return List.of("");
        }
    }

    private Visit visit(Fields fields) {
        var visit = new Visit(fields.text("name", "look-up"), fields.number("share", Optional.of(1.0), "1"),
                fields.smallInteger("repeat", Optional.of(1L), "1"),
                fields.groups("calls").stream().map(this::call).toList());
        fields.warnOfUnknown();
        return visit;
    }

    private Call call(Fields fields) {
        List<Form> forms = forms(fields);
        // a call that is asked in another protocol alone has no path
        String path = forms.isEmpty() ? fields.text("path", "/berths/7") : fields.optional("path").orElse("");
        String name = fields.text("name", "one-berth");
        String method = fields.optional("method").orElse("GET").toUpperCase(Locale.ROOT);
        var call = new Call(name, method, path, headers(fields), body(fields),
                expectations(fields).or(() -> defaults.expected()).orElse(Expectations.ANY_SUCCESS), captures(fields),
                timeout(fields).or(() -> defaults.timeout()), thinkTime(fields).or(() -> defaults.thinkTime()), forms,
                answer(fields).orElse(AnswerPart.WHOLE));
        fields.warnOfUnknown();
        return call;
    }

    /** The groups in which the call is asked in other protocols. */
    private List<Form> forms(Fields fields) {
        return Protocols.all().stream().filter(protocol -> !protocol.isCallsOwnForm())
                .flatMap(protocol -> fields.optionalGroup(protocol.id()).map(group -> {
                    Map<String, List<String>> texts = texts(group, protocol.fields());
                    var form = new Form(protocol.id(), texts, expectations(group),
                            group.has("capture") ? Optional.of(captures(group)) : Optional.empty(), answer(group));
                    group.warnOfUnknown();
                    return form;
                }).stream()).toList();
    }

    /** The fields of a group that a driver knows. */
    static Map<String, List<String>> texts(Fields group, List<CallField> known) {
        Map<String, List<String>> texts = new LinkedHashMap<>();
        for (CallField field : known) {
            group.passOver(field.name());
            if (group.has(field.name())) {
                List<String> read = field.kind() == CallField.Kind.LIST
                        ? group.textOrTexts(field.name())
                        : group.optional(field.name()).map(List::of).orElse(List.of());
                if (!read.isEmpty()) {
                    texts.put(field.name(), read);
                }
            }
        }
        return texts;
    }

    /** {@code answer: {at: $.rows, names: {berth_id: id}}}. */
    private static Optional<AnswerPart> answer(Fields fields) {
        return fields.optionalGroup("answer").map(group -> {
            var part = new AnswerPart(group.optional("at").orElse("$"), texts(group, "names"));
            group.warnOfUnknown();
            return part;
        });
    }

    private static Optional<Duration> timeout(Fields fields) {
        return fields.has("timeout")
                ? Optional.of(fields.duration("timeout", Optional.empty(), "5s"))
                : Optional.empty();
    }

    static Optional<ThinkTime> thinkTime(Fields fields) {
        return fields.optional("thinkTime").map(text -> ThinkTimes.parse(text).orElseGet(() -> {
            fields.error("thinkTime", "is \"" + text + "\"",
                    "Write none, 250ms, uniform 100ms to 500ms, exponential 1s, normal 1s sd 200ms or lognormal 1s sd 500ms.");
            return ThinkTime.NONE;
        }));
    }

    /** The headers of the call, and those defaults that it does not give itself. */
    private List<Call.Header> headers(Fields fields) {
        var named = new LinkedHashMap<String, Call.Header>();
        defaults.headers().forEach((name, value) -> named.put(name.toLowerCase(Locale.ROOT),
                header(fields, name, value)));
        fields.optionalGroup("headers").map(Fields::allTexts).orElse(Map.of())
                .forEach((name, value) -> named.put(name.toLowerCase(Locale.ROOT), header(fields, name, value)));
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
        List<String> kinds = List.of("body", "form", "file", "parts").stream().filter(fields::has).toList();
        if (kinds.size() > 1) {
            fields.error(kinds.get(1), "stands beside " + kinds.getFirst(), "A call has one body; remove one of them.");
        }
        Optional<String> type = fields.optional("bodyType");
        if (fields.has("form")) {
            return new Body.Form(fields.optionalGroup("form").map(Fields::allTexts).orElse(Map.of()).entrySet().stream()
                    .map(entry -> new Body.Field(entry.getKey(), entry.getValue())).toList());
        }
        if (fields.has("parts")) {
            return new Body.Multipart(fields.groups("parts").stream().map(part -> {
                var made = new Body.Part(part.text("name", "photo"), body(part));
                part.warnOfUnknown();
                return made;
            }).toList());
        }
        if (fields.has("file")) {
            String file = fields.text("file", "values/photo.png");
            return new Body.FromFile(file, type.orElse("application/octet-stream"),
                    file(fields, "file", file).map(path -> content(fields, path)).orElse(Bytes.of(new byte[0])));
        }
        String text = fields.optional("body").orElse("");
        Body.Kind kind = type.map(id -> oneOf(fields, "bodyType", id, Body.Kind.values(), Body.Kind::id))
                .orElse(Body.Kind.guess(text));
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

    private static Bytes content(Fields fields, Path path) {
        try {
            if (Files.size(path) > MOST_FILE_BYTES) {
                fields.error("file", "is larger than 64 MiB", "Use a smaller file.");
                return Bytes.of(new byte[0]);
            }
            return Bytes.of(Files.readAllBytes(path));
        } catch (IOException cause) {
            fields.error("file", "cannot be read: " + cause.getMessage(), "Make it readable.");
            return Bytes.of(new byte[0]);
        }
    }

    /** {@code expect}: a list of statuses, or a group with more. Empty where the field is not there. */
    private Optional<Expectations> expectations(Fields fields) {
        if (!fields.has("expect")) {
            return Optional.empty();
        }
        if (fields.isList("expect")) {
            return Optional.of(Expectations.of(statuses(fields, "expect")));
        }
        return fields.optionalGroup("expect").map(group -> {
            var content = new ArrayList<Expectation>();
            StatusSet status = statuses(group, "status");
            Optional<Duration> within = group.has("within")
                    ? Optional.of(group.duration("within", Optional.empty(), "500ms"))
                    : Optional.empty();
            texts(group, "headers").forEach((name, text) -> content.add(new Expectation.HeaderHolds(name, text)));
            group.textOrTexts("holds").forEach(text -> content.add(new Expectation.BodyHolds(text)));
            group.textOrTexts("matches").forEach(regex -> content.add(new Expectation.BodyMatches(regex)));
            texts(group, "json").forEach((path, text) -> content.add(new Expectation.JsonValue(path, some(text))));
            group.textOrTexts("jsonMissing").forEach(path -> content.add(new Expectation.NoJsonValue(path)));
            texts(group, "xml").forEach((path, text) -> content.add(new Expectation.XmlValue(path, some(text))));
            group.optional("schema").ifPresent(file -> content.add(new Expectation.JsonSchema(file,
                    file(group, "schema", file)
                            .map(path -> new String(content(group, path).toArray(), StandardCharsets.UTF_8))
                            .orElse("{}"))));
            group.optionalGroup("size").ifPresent(size -> {
                content.add(new Expectation.Size(size.integer("least", Optional.of(0L), "10"),
                        size.integer("most", Optional.of(Long.MAX_VALUE), "5000")));
                size.warnOfUnknown();
            });
            group.optional("sha256").ifPresent(hash -> content.add(new Expectation.Hash(hash)));
            group.warnOfUnknown();
            return new Expectations(status, within, content);
        });
    }

    private static Map<String, String> texts(Fields group, String name) {
        return group.optionalGroup(name).map(Fields::allTexts).orElse(Map.of());
    }

    private static Optional<String> some(String text) {
        return text.isEmpty() ? Optional.empty() : Optional.of(text);
    }

    private static StatusSet statuses(Fields fields, String name) {
        var ranges = new ArrayList<StatusSet.Range>();
        for (String status : fields.textOrTexts(name)) {
            Matcher matcher = STATUS.matcher(status);
            if (matcher.matches()) {
                int from = Integer.parseInt(matcher.group(1));
                ranges.add(new StatusSet.Range(from,
                        matcher.group(2) == null ? from : Integer.parseInt(matcher.group(2))));
            } else {
                fields.error(name, "holds \"" + status + "\"",
                        "Write statuses like this: " + name + ": [200, 300-304]");
            }
        }
        return new StatusSet(ranges);
    }

    private static List<Capture> captures(Fields fields) {
        var captures = new ArrayList<Capture>();
        fields.optionalGroup("capture").ifPresent(group -> {
            for (String name : group.names()) {
                group.optionalGroup(name).ifPresent(source -> {
                    source(source).ifPresentOrElse(found -> captures.add(new Capture(name, found)),
                            () -> group.error(name, "does not say where the value stands",
                                    "Write it like this: " + name + ": {json: $.token}"));
                    source.warnOfUnknown();
                });
            }
        });
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
