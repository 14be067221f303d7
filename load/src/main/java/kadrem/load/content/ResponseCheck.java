package kadrem.load.content;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

import com.google.re2j.Matcher;
import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import com.networknt.schema.AbsoluteIri;
import com.networknt.schema.InputFormat;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import com.networknt.schema.ValidationMessage;
import com.networknt.schema.resource.InputStreamSource;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations.Expectation;
import kadrem.core.study.Workload;
import org.jspecify.annotations.Nullable;

/**
 * What a call expects of its responses beyond their status, and what it captures from them, compiled before the run; one file, since
 * compiling a check and making it stand side by side. Confined to a lane.
 */
public final class ResponseCheck {
    /** Finds nothing wrong and captures nothing. */
    public static final ResponseCheck NONE = new ResponseCheck(List.of(), false);
    private static final int MAX_SHOWN = 200;

    private final List<Rule> rules;
    private final boolean needsBody;

    /** Either proves a response wrong, or captures a value from it. */
    private interface Rule {
        /** What is wrong in words; empty where nothing is. */
        String look(Reading response, byte[][] captured) throws UnreadableContent;
    }

    private interface Finder {
        Optional<String> find(Reading response) throws UnreadableContent;
    }

    private ResponseCheck(List<Rule> rules, boolean needsBody) {
        this.rules = rules;
        this.needsBody = needsBody;
    }

    /**
     * The check of {@code call}; empty where its status says all.
     *
     * @param capturedNames names of all captured values; the place of a name is where its value is put
     * @throws UnreadableContent if an expression of the call cannot be used; the message names it
     */
    public static Optional<ResponseCheck> of(Call call, List<String> capturedNames) throws UnreadableContent {
        var rules = new ArrayList<Rule>();
        boolean body = false;
        for (Expectation expectation : call.expected().content()) {
            rules.add(rule(expectation));
            body |= !(expectation instanceof Expectation.HeaderHolds);
        }
        for (Capture capture : call.captures()) {
            int place = capturedNames.indexOf(capture.name());
            Finder finder = finder(capture.source());
            rules.add((response, captured) -> {
                Optional<String> found = finder.find(response);
                found.ifPresent(value -> captured[place] = value.getBytes(StandardCharsets.UTF_8));
                return found.isPresent()
                        ? ""
                        : capture.name() + " was not captured: nothing at " + capture.source().words();
            });
            body |= !(capture.source() instanceof Capture.Source.Header
                    || capture.source() instanceof Capture.Source.Cookie);
        }
        return rules.isEmpty() ? Optional.empty() : Optional.of(new ResponseCheck(rules, body));
    }

    /**
     * The checks of all calls of a workload, by their numbers. Checks keep what they read while they look, so each carrier has its
     * own.
     *
     * @throws UnusableCall if an expression of a call cannot be used; the message names both
     */
    public static ResponseCheck[] all(Workload workload) throws UnusableCall {
        List<Call> calls = workload.calls();
        List<String> captured = workload.capturedNames();
        var checks = new ResponseCheck[calls.size()];
        for (int i = 0; i < checks.length; i++) {
            try {
                Optional<ResponseCheck> check = of(calls.get(i), captured);
                checks[i] = check.orElse(NONE);
            } catch (UnreadableContent cause) {
                throw new UnusableCall("the call " + calls.get(i).name() + " cannot be used: " + cause.getMessage());
            }
        }
        return checks;
    }

    /** Whether {@link ResponseView#body()} is asked for. */
    public boolean needsBody() {
        return needsBody;
    }

    /**
     * Looks at a response and captures from it.
     *
     * @return what is wrong with it, in words; empty where it is as expected
     */
    public String check(ResponseView response, byte[][] captured) {
        if (rules.isEmpty()) {
            return "";
        }
        var reading = new Reading(response);
        for (int i = 0; i < rules.size(); i++) {
            String wrong;
            try {
                wrong = rules.get(i).look(reading, captured);
            } catch (UnreadableContent cause) {
                wrong = String.valueOf(cause.getMessage());
            }
            if (!wrong.isEmpty()) {
                return wrong.length() > MAX_SHOWN ? wrong.substring(0, MAX_SHOWN) + "…" : wrong;
            }
        }
        return "";
    }

    private static Rule rule(Expectation expectation) throws UnreadableContent {
        return switch (expectation) {
            case Expectation.HeaderHolds(String name, String text) -> {
                String wanted = text.toLowerCase(Locale.ROOT);
                yield (response, _) -> {
                    List<String> values = response.view.headers(name);
                    boolean held = values.stream().anyMatch(value -> value.toLowerCase(Locale.ROOT).contains(wanted));
                    return held
                            ? ""
                            : "header " + name + (values.isEmpty()
                                    ? " is missing"
                                    : " is \"" + values.getFirst() + "\", without \"" + text + "\"");
                };
            }
            case Expectation.BodyHolds(String text) ->
                (response, _) -> response.text().contains(text) ? "" : "the body does not hold \"" + text + "\"";
            case Expectation.BodyMatches(String regex) -> {
                Pattern pattern = pattern(regex);
                yield (response, _) -> pattern.matcher(response.text()).find()
                        ? ""
                        : "the body does not match " + regex;
            }
            case Expectation.JsonValue(String path, Optional<String> equalTo) ->
                equal(path, equalTo, finder(new Capture.Source.Json(path)));
            case Expectation.NoJsonValue(String path) -> {
                Finder finder = finder(new Capture.Source.Json(path));
                yield (response, _) -> finder.find(response)
                        .map(found -> path + " is " + found + ", and should not be there").orElse("");
            }
            case Expectation.XmlValue(String path, Optional<String> equalTo) ->
                equal(path, equalTo, finder(new Capture.Source.Xml(path)));
            case Expectation.JsonSchema(String file, String schema) -> schema(file, schema);
            case Expectation.Size(long least, long most) -> (response, _) -> {
                long size = response.decoded().length;
                return size >= least && size <= most
                        ? ""
                        : "the body has " + size + " bytes, and not "
                                + expectation.words().substring("body has ".length());
            };
            case Expectation.Hash(String hash) -> (response, _) -> {
                String found = sha256(response.decoded());
                return found.startsWith(hash.toLowerCase(Locale.ROOT))
                        ? ""
                        : "the body has the hash " + found.substring(0, Math.min(16, found.length())) + "…, and not "
                                + hash;
            };
        };
    }

    private static Rule equal(String path, Optional<String> equalTo, Finder finder) {
        return (response, _) -> {
            Optional<String> found = finder.find(response);
            if (found.isEmpty()) {
                return path + " finds nothing";
            }
            return equalTo.isEmpty() || equalTo.equals(found)
                    ? ""
                    : path + " is \"" + found.get() + "\", and not \"" + equalTo.get() + "\"";
        };
    }

    private static Pattern pattern(String regex) throws UnreadableContent {
        try {
            return Pattern.compile(regex);
        } catch (PatternSyntaxException cause) {
            throw new UnreadableContent("\"" + regex + "\" is no regular expression: " + cause.getDescription());
        }
    }

    private static Rule schema(String file, String text) throws UnreadableContent {
        JsonSchema schema;
        try {
            schema = JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012,
                    factory -> factory.schemaLoaders(loaders -> loaders.add(ResponseCheck::nothingElsewhere)))
                    .getSchema(text);
            schema.initializeValidators();
        } catch (RuntimeException cause) {
            throw new UnreadableContent(file + " is no JSON Schema: " + cause.getMessage());
        }
        return (response, _) -> {
            try {
                var messages = schema.validate(response.text(), InputFormat.JSON);
                return messages.isEmpty()
                        ? ""
                        : "the body does not follow " + file + ": "
                                + messages.stream().map(ValidationMessage::getMessage).limit(3)
                                        .collect(Collectors.joining("; "));
            } catch (RuntimeException cause) {
                throw new UnreadableContent("the body is not JSON: " + cause.getMessage());
            }
        };
    }

    /** A schema that came with a study fetches nothing; the dialects' own ones are on the class path. */
    private static @Nullable InputStreamSource nothingElsewhere(AbsoluteIri reference) {
        if (reference.toString().startsWith("classpath:")) {
            return null;
        }
        throw new IllegalArgumentException("it refers to " + reference + ", which is not in it; nothing is fetched");
    }

    private static Finder finder(Capture.Source source) throws UnreadableContent {
        return switch (source) {
            case Capture.Source.Json(String path) -> {
                JsonQuery query = JsonQuery.of(path);
                yield response -> query.first(response.json());
            }
            case Capture.Source.Xml(String path) -> {
                XmlQuery query = XmlQuery.of(path);
                yield response -> query.first(response.xml());
            }
            case Capture.Source.Pattern(String regex) -> {
                Pattern pattern = pattern(regex);
                yield response -> {
                    Matcher matcher = pattern.matcher(response.text());
                    return matcher.find()
                            ? Optional.ofNullable(matcher.groupCount() > 0 ? matcher.group(1) : matcher.group())
                            : Optional.empty();
                };
            }
            case Capture.Source.Header(String name) ->
                response -> response.view.headers(name).stream().findFirst();
            case Capture.Source.Cookie(String name) -> response -> response.view.headers("Set-Cookie").stream()
                    .map(cookie -> cookie.split(";", 2)[0].strip()).filter(pair -> pair.startsWith(name + "="))
                    .map(pair -> pair.substring(name.length() + 1)).findFirst();
        };
    }

    /** The SHA-256 of {@code bytes} as hexadecimal digits. */
    public static String sha256(byte[] bytes) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("every Java platform has SHA-256", impossible);
        }
    }

    /** One response with what has been read of it so far, so that several rules read it once. */
    private static final class Reading {
        private final ResponseView view;
        private byte @Nullable [] decoded;
        private @Nullable String text;
        private JsonQuery.@Nullable Document json;
        private org.w3c.dom.@Nullable Document xml;

        Reading(ResponseView view) {
            this.view = view;
        }

        byte[] decoded() throws UnreadableContent {
            byte[] known = decoded;
            if (known == null) {
                known = Decoding.decode(view.body(), view.header("Content-Encoding"));
                decoded = known;
            }
            return known;
        }

        String text() throws UnreadableContent {
            String known = text;
            if (known == null) {
                known = new String(decoded(), StandardCharsets.UTF_8);
                text = known;
            }
            return known;
        }

        JsonQuery.Document json() throws UnreadableContent {
            JsonQuery.Document known = json;
            if (known == null) {
                known = JsonQuery.Document.of(decoded());
                json = known;
            }
            return known;
        }

        org.w3c.dom.Document xml() throws UnreadableContent {
            org.w3c.dom.Document known = xml;
            if (known == null) {
                known = XmlQuery.document(decoded());
                xml = known;
            }
            return known;
        }
    }
}
