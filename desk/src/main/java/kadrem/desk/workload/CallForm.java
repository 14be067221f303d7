package kadrem.desk.workload;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.AnswerPart;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.Expectations.Expectation;
import kadrem.core.study.StatusSet;
import kadrem.desk.workload.PartRows.Row;

/** Between the parts of a call and what the study file and the form's rows hold of them. */
final class CallForm {
    static final List<String> EXPECTATIONS = List.of("JSON value", "JSON missing", "body holds", "body matches",
            "header holds",
            "XML value", "JSON Schema", "body size", "body hash");
    static final List<String> PARTS = List.of("text", "json", "xml", "file");
    static final List<String> SOURCES = List.of("JSON", "XML", "pattern", "header", "cookie");

    private CallForm() {
    }

    /** What the members of an answer are compared under. */
    static List<Row> names(AnswerPart part) {
        return part.names().entrySet().stream().sorted(Map.Entry.comparingByKey())
                .map(one -> new Row("", one.getKey(), one.getValue())).toList();
    }

    /** The field {@code answer} of a study file; empty where the whole answer is compared as it is. */
    static Optional<Object> answer(String at, List<Row> names) {
        Map<String, Object> group = new LinkedHashMap<>();
        if (!at.isBlank() && !at.strip().equals(AnswerPart.WHOLE.at())) {
            group.put("at", at.strip());
        }
        map(names).ifPresent(members -> group.put("names", members));
        return group.isEmpty() ? Optional.empty() : Optional.of(group);
    }

    static List<Row> headers(Call call) {
        return call.headers().stream().map(header -> new Row("", header.name(), header.value())).toList();
    }

    /** The headers that the call itself has to say, beyond what all calls have. */
    static List<Row> ownHeaders(List<Row> rows, Map<String, String> defaults) {
        return rows.stream().filter(row -> defaults.entrySet().stream().noneMatch(
                all -> all.getKey().equalsIgnoreCase(row.name()) && all.getValue().equals(row.value()))).toList();
    }

    /** Name to value, as a study file holds headers and form fields. */
    static Optional<Object> map(List<Row> rows) {
        Map<String, String> map = new LinkedHashMap<>();
        rows.forEach(row -> map.put(row.name(), row.value()));
        return map.isEmpty() ? Optional.empty() : Optional.of(map);
    }

    static List<Row> expectations(Call call) {
        return call.expected().content().stream().map(expectation -> switch (expectation) {
            case Expectation.JsonValue(String path, Optional<String> text) ->
                new Row("JSON value", path, text.orElse(""));
            case Expectation.NoJsonValue(String path) -> new Row("JSON missing", path, "");
            case Expectation.BodyHolds(String text) -> new Row("body holds", "", text);
            case Expectation.BodyMatches(String regex) -> new Row("body matches", "", regex);
            case Expectation.HeaderHolds(String name, String text) -> new Row("header holds", name, text);
            case Expectation.XmlValue(String path, Optional<String> text) ->
                new Row("XML value", path, text.orElse(""));
            case Expectation.JsonSchema(String file, String _) -> new Row("JSON Schema", "", file);
            case Expectation.Size(long least, long most) ->
                new Row("body size", Long.toString(least), most == Long.MAX_VALUE ? "" : Long.toString(most));
            case Expectation.Hash(String hash) -> new Row("body hash", "", hash);
        }).toList();
    }

    static String statuses(Call call) {
        return String.join(", ", call.expected().status().ranges().stream().map(StatusSet.Range::toString).toList());
    }

    /** The field {@code expect} of a study file; empty where any 2xx will do. */
    static Optional<Object> expect(String statuses, String within, List<Row> rows) {
        List<String> status = List.of(statuses.split("[\\s,]+")).stream().filter(one -> !one.isEmpty()).toList();
        if (rows.isEmpty() && within.isBlank()) {
            return status.isEmpty() ? Optional.empty() : Optional.of(status);
        }
        Map<String, Object> group = new LinkedHashMap<>();
        if (!status.isEmpty()) {
            group.put("status", status);
        }
        if (!within.isBlank()) {
            group.put("within", within.strip());
        }
        Map<String, String> headers = new LinkedHashMap<>();
        Map<String, String> json = new LinkedHashMap<>();
        Map<String, String> xml = new LinkedHashMap<>();
        List<String> missing = new ArrayList<>();
        List<String> holds = new ArrayList<>();
        List<String> matches = new ArrayList<>();
        for (Row row : rows) {
            switch (row.kind()) {
                case "JSON value" -> json.put(row.name(), row.value());
                case "JSON missing" -> missing.add(either(row));
                case "XML value" -> xml.put(row.name(), row.value());
                case "header holds" -> headers.put(row.name(), row.value());
                case "body holds" -> holds.add(either(row));
                case "body matches" -> matches.add(either(row));
                case "JSON Schema" -> group.put("schema", either(row));
                case "body hash" -> group.put("sha256", either(row));
                default -> group.put("size", size(row));
            }
        }
        putUnlessEmpty(group, "headers", headers);
        putUnlessEmpty(group, "json", json);
        putUnlessEmpty(group, "xml", xml);
        if (!missing.isEmpty()) {
            group.put("jsonMissing", missing);
        }
        if (!holds.isEmpty()) {
            group.put("holds", holds);
        }
        if (!matches.isEmpty()) {
            group.put("matches", matches);
        }
        return Optional.of(group);
    }

    /** These expectations have one text, whichever field it was written into. */
    private static String either(Row row) {
        return row.value().isEmpty() ? row.name() : row.value();
    }

    private static Map<String, String> size(Row row) {
        Map<String, String> size = new LinkedHashMap<>();
        size.put("least", row.name().isBlank() ? "0" : row.name());
        if (!row.value().isBlank()) {
            size.put("most", row.value().strip());
        }
        return size;
    }

    private static void putUnlessEmpty(Map<String, Object> group, String name, Map<String, String> map) {
        if (!map.isEmpty()) {
            group.put(name, map);
        }
    }

    static List<Row> captures(Call call) {
        return call.captures().stream().map(capture -> switch (capture.source()) {
            case Capture.Source.Json(String path) -> new Row("JSON", capture.name(), path);
            case Capture.Source.Xml(String path) -> new Row("XML", capture.name(), path);
            case Capture.Source.Pattern(String regex) -> new Row("pattern", capture.name(), regex);
            case Capture.Source.Header(String name) -> new Row("header", capture.name(), name);
            case Capture.Source.Cookie(String name) -> new Row("cookie", capture.name(), name);
        }).toList();
    }

    static Optional<Object> capture(List<Row> rows) {
        Map<String, Object> group = new LinkedHashMap<>();
        rows.forEach(row -> group.put(row.name(),
                Map.of(row.kind().toLowerCase(java.util.Locale.ROOT), row.value())));
        return group.isEmpty() ? Optional.empty() : Optional.of(group);
    }

    /** Kinds of body that can be edited here, and the words for the others. */
    static String bodyKind(Call call) {
        return switch (call.body()) {
            case Body.Text(Body.Kind kind, String template) -> template.isEmpty() ? "none" : kind.id();
            case Body.Form _ -> "form";
            case Body.FromFile _ -> "file";
            case Body.Multipart _ -> "parts";
        };
    }

    static String bodyText(Call call) {
        return switch (call.body()) {
            case Body.Text(Body.Kind _, String template) -> template;
            case Body.Form(List<Body.Field> fields) -> String.join("\n",
                    fields.stream().map(field -> field.name() + "=" + field.value()).toList());
            case Body.FromFile file -> file.file() + " " + file.contentType();
            case Body.Multipart _ -> "";
        };
    }

    /** The parts of a multipart body: a text with its kind, or a file with its content type behind it. */
    static List<Row> parts(Call call) {
        return call.body() instanceof Body.Multipart(List<Body.Part> parts)
                ? parts.stream().map(part -> switch (part.content()) {
                    case Body.Text(Body.Kind kind, String template) -> new Row(kind.id(), part.name(), template);
                    case Body.FromFile file -> new Row("file", part.name(), file.file() + " " + file.contentType());
                    case Body.Form _,Body.Multipart _ -> new Row("text", part.name(), "");
                }).toList()
                : List.of();
    }

    private static Map<String, String> part(Row row) {
        Map<String, String> part = new LinkedHashMap<>();
        part.put("name", row.name());
        if (row.kind().equals("file")) {
            String[] words = row.value().strip().split("\\s+", 2);
            part.put("file", words[0]);
            if (words.length > 1) {
                part.put("bodyType", words[1]);
            }
        } else {
            part.put("body", row.value());
            if (!Body.Kind.guess(row.value()).id().equals(row.kind())) {
                part.put("bodyType", row.kind());
            }
        }
        return part;
    }

    /** The fields of a study file that hold a body; those of other kinds are removed. */
    static Map<String, Optional<Object>> body(String kind, String text, List<Row> parts) {
        Map<String, Optional<Object>> fields = new LinkedHashMap<>();
        for (String name : List.of("body", "bodyType", "form", "file", "parts")) {
            fields.put(name, Optional.empty());
        }
        switch (kind) {
            case "form" -> fields.put("form", map(text.lines().filter(line -> !line.isBlank()).map(line -> {
                int at = line.indexOf('=');
                return new Row("", at < 0 ? line.strip() : line.substring(0, at).strip(),
                        at < 0 ? "" : line.substring(at + 1));
            }).toList()));
            case "file" -> {
                String[] words = text.strip().split("\\s+", 2);
                fields.put("file", Optional.of(words[0]));
                fields.put("bodyType", words.length > 1 ? Optional.of(words[1]) : Optional.empty());
            }
            case "parts" -> fields.put("parts", Optional.of(parts.stream().map(CallForm::part).toList()));
            case "none" -> {
                // no field at all
            }
            default -> {
                fields.put("body", text.isEmpty() ? Optional.empty() : Optional.of(text));
                if (!Body.Kind.guess(text).id().equals(kind) && !text.isEmpty()) {
                    fields.put("bodyType", Optional.of(kind));
                }
            }
        }
        return fields;
    }

    static String within(Expectations expected) {
        return expected.within().map(kadrem.core.study.grammar.Durations::write).orElse("");
    }
}
