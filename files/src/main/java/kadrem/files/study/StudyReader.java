package kadrem.files.study;

import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.OptionalInt;
import java.util.stream.Collectors;

import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Agreement;
import kadrem.core.study.Annotation;
import kadrem.core.study.Candidate;
import kadrem.core.study.FigureFile;
import kadrem.core.study.Judgement;
import kadrem.core.study.Metric;
import kadrem.core.study.Launch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Pacing;
import kadrem.core.study.Plan;
import kadrem.core.study.Protocol;
import kadrem.core.study.Protocols;
import kadrem.core.study.Question;
import kadrem.core.study.Requirement;
import kadrem.core.study.SignIn;
import kadrem.core.study.Study;
import kadrem.core.study.Tls;
import kadrem.core.study.WatchSource;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;

/** From the fields of a study file to a {@link Study}. */
final class StudyReader {
    /** What stands in the place of workload and load where figures were measured elsewhere. */
    private static final Workload NO_WORKLOAD = new Workload(List.of(), List.of());
    private static final LoadProfile NO_LOAD = new LoadProfile.Open(1, LoadProfile.Spacing.CONSTANT, 1, Duration.ZERO,
            Duration.ofSeconds(1), Duration.ofSeconds(1));

    private final Path folder;
    private final Fields.Problems problems;
    private CallDefaults defaults = CallDefaults.NONE;

    StudyReader(Path folder, Fields.Problems problems) {
        this.folder = folder;
        this.problems = problems;
    }

    Study read(YamlNode root) {
        var fields = new Fields(root, "", problems);
        long format = fields.integer("kadrem", Optional.empty(), "1");
        if (format != 1) {
            fields.error("kadrem", "is " + format, "This Kadrem reads studies of format 1.");
        }
        String name = fields.text("name", "Harbour berth board");
        SignIn common = fields.optionalGroup("signIn").map(StudyReader::signIn).orElse(new SignIn.None());
        Wire wire = fields.optionalGroup("wire").map(group -> wire(group, Wire.USUAL)).orElse(Wire.USUAL);
        List<FigureFile> figures = fields.groups("figures").stream().flatMap(group -> figures(group).stream()).toList();
        boolean elsewhere = fields.has("figures");
        List<Candidate> candidates = fields.groups("candidates").stream()
                .map(group -> elsewhere ? named(group) : candidate(group, common, wire)).toList();
        Question question = QuestionReader.read(fields.group("question", "(a group with text and decide)"), candidates);
        Workload workload = elsewhere ? NO_WORKLOAD : workload(fields.group("workload", "(a group with visits)"));
        LoadProfile load = elsewhere
                ? NO_LOAD
                : LoadReader.read(fields.group("load", "(a group with model, measured and more)"));
        Plan plan = plan(fields.optionalGroup("plan"));
        Agreement agreement = fields.optionalGroup("rehearsal").map(StudyReader::agreement).orElse(Agreement.EXACT);
        List<String> intended = fields.texts("intendedDifferences");
        Judgement judgement = fields.optionalGroup("soundness").map(LoadReader::judgement).orElse(Judgement.USUAL);
        List<Annotation> annotations = fields.groups("annotations").stream().map(group -> {
            var one = new Annotation(group.text("run", "a1b2c3d4"),
                    group.smallInteger("second", Optional.empty(), "12"),
                    group.text("text", "the backup began"));
            group.warnOfUnknown();
            return one;
        }).toList();
        fields.warnOfUnknown();
        return new Study(name, question, candidates, workload, load, plan, agreement, intended, judgement,
                annotations, figures);
    }

    /** A candidate that was measured elsewhere: it has a name and no address. */
    private static Candidate named(Fields fields) {
        String id = fields.text("id", "pool");
        String name = fields.optional("name").orElse(id);
        fields.warnOfUnknown();
        return new Candidate(id, name, new Address("127.0.0.1", 1, ""), Optional.empty(), "/", Optional.empty(),
                Optional.empty());
    }

    private static Optional<FigureFile> figures(Fields group) {
        String file = group.text("file", "figures/p99.csv");
        String id = group.text("metric", "p99");
        String unit = group.optional("unit").orElse("");
        Optional<Metric> metric = Metric.byId(id);
        if (metric.isEmpty() && !id.isEmpty()) {
            group.error("metric", "is \"" + id + "\"", "Use one of: "
                    + String.join(", ", Arrays.stream(Metric.values()).map(Metric::id).toList()) + ".");
        }
        Optional<Double> factor = metric.flatMap(one -> Optional.ofNullable(units(one).get(unit)));
        if (metric.isPresent() && factor.isEmpty()) {
            group.error("unit", "is \"" + unit + "\"",
                    "Use one of: " + String.join(", ", units(metric.get()).keySet()) + ".");
        }
        group.warnOfUnknown();
        return factor.map(one -> new FigureFile(file, metric.orElseThrow(), one));
    }

    /** The units in which values of a metric may be given, and what they are multiplied by. */
    static Map<String, Double> units(Metric metric) {
        return switch (metric.unit()) {
            case NANOSECONDS -> new TreeMap<>(Map.of("ns", 1.0, "us", 1e3, "ms", 1e6, "s", 1e9));
            case PER_SECOND -> new TreeMap<>(Map.of("", 1.0, "/s", 1.0));
            case SHARE -> new TreeMap<>(Map.of("", 1.0, "%", 0.01));
            case CPU_MILLISECONDS -> new TreeMap<>(Map.of("", 1.0, "ms", 1.0));
            case BYTES -> new TreeMap<>(Map.of("B", 1.0, "KiB", 1024.0, "MiB", 1024.0 * 1024));
        };
    }

    /** The defaults of calls in the study read last. */
    CallDefaults defaults() {
        return defaults;
    }

    private Candidate candidate(Fields fields, SignIn common, Wire usual) {
        String id = fields.text("id", "pool");
        String name = fields.optional("name").orElse(id);
        Address address = address(fields);
        Optional<Launch> launch = fields.optionalGroup("launch").map(this::launch);
        String ready = fields.optional("ready").orElse(Candidate.USUAL_READY);
        Optional<Candidate.Reset> reset = fields.optionalGroup("reset").map(group -> {
            Candidate.Reset made = reset(group, "POST", "/reset");
            group.warnOfUnknown();
            return made;
        });
        Optional<Candidate.Reset> data = fields.optionalGroup("data").map(group -> {
            Candidate.Reset made = reset(group, "GET", "/admin/count");
            group.warnOfUnknown();
            return made;
        });
        Optional<String> version = fields.optional("version");
        SignIn signIn = fields.optionalGroup("signIn").map(StudyReader::signIn).orElse(common);
        Tls tls = fields.optionalGroup("tls").map(this::tls).orElse(Tls.USUAL);
        Wire wire = fields.optionalGroup("wire").map(group -> wire(group, usual)).orElse(usual);
        Protocols.byId(address.protocol()).ifPresent(protocol -> protocol.settings()
                .forEach(setting -> fields.belongsElsewhere(setting.name(), "It is a setting of " + protocol.id()
                        + ": write " + protocol.id() + ": {" + setting.name() + ": ...}. ")));
        Map<String, List<String>> settings = Protocols.byId(address.protocol())
                .filter(protocol -> !protocol.isCallsOwnForm())
                .flatMap(protocol -> fields.optionalGroup(protocol.id()).map(group -> {
                    Map<String, List<String>> texts = WorkloadReader.texts(group, protocol.settings());
                    group.warnOfUnknown();
                    return texts;
                })).orElse(Map.of());
        List<WatchSource> watch = WatchReader.read(fields.groups("watch"));
        fields.warnOfUnknown();
        return new Candidate(id, name, address, launch, ready, reset, version, new Access(signIn, tls, wire, settings),
                watch, data);
    }

    /** A command, SQL, or a call with a usual method. */
    private static Candidate.Reset reset(Fields group, String method, String example) {
        if (group.has("command")) {
            return new Candidate.ControlCommand(group.texts("command"));
        }
        if (group.has("ask")) {
            return new Candidate.ControlAsk(group.text("ask", "select count(*) from berth"));
        }
        if (group.has("sql")) {
            return new Candidate.ControlSql(group.text("database", "jdbc:postgresql://127.0.0.1/board"),
                    group.optional("user").orElse(""), group.optional("password").orElse(""),
                    group.textOrTexts("sql"));
        }
        return new Candidate.ControlCall(group.optional("method").orElse(method), group.text("path", example));
    }

    private static SignIn signIn(Fields fields) {
        SignIn found = fields.optionalGroup("basic")
                .<SignIn>map(group -> new SignIn.Basic(group.text("user", "harbour"), password(group)))
                .or(() -> fields.optionalGroup("digest")
                        .map(group -> new SignIn.Digest(group.text("user", "harbour"), password(group))))
                .or(() -> fields.optional("bearer").map(SignIn.Bearer::new))
                .or(() -> fields.optionalGroup("oauth").map(StudyReader::clientCredentials))
                .or(() -> fields.optionalGroup("header").map(group -> new SignIn.Key(group.text("name", "X-API-Key"),
                        group.text("value", "\"{{env:BOARD_KEY}}\""))))
                .orElse(new SignIn.None());
        if (fields.names().size() > 1) {
            fields.error(fields.names().get(1), "stands beside " + fields.names().getFirst(),
                    "Use one way to sign in.");
        }
        fields.passOver("none");
        fields.warnOfUnknown();
        return found;
    }

    private static String password(Fields group) {
        String password = group.text("password", "\"{{env:BOARD_PASSWORD}}\"");
        group.warnOfUnknown();
        return password;
    }

    private static SignIn clientCredentials(Fields group) {
        var found = new SignIn.ClientCredentials(group.text("tokenAddress", "http://127.0.0.1:9000/token"),
                group.text("client", "kadrem"), group.text("secret", "\"{{env:CLIENT_SECRET}}\""),
                group.optional("scope").orElse(""));
        group.warnOfUnknown();
        return found;
    }

    /** How calls travel; what the group does not say is as {@code usual}. */
    private static Wire wire(Fields fields, Wire usual) {
        String protocol = fields.optional("protocol").orElse(usual.protocol().id());
        Optional<Wire.Protocol> known = Wire.Protocol.byId(protocol);
        if (known.isEmpty()) {
            fields.error("protocol", "is \"" + protocol + "\"", "Use http/1.1 or http/2.");
        }
        String reuse = fields.optional("connections").orElse(usual.reuse().id());
        Optional<Wire.Reuse> reused = Wire.Reuse.byId(reuse);
        if (reused.isEmpty()) {
            fields.error("connections", "is \"" + reuse + "\"", "Use keep, per-visit or per-call.");
        }
        Wire.Protocol spoken = known.orElse(usual.protocol());
        String depth = spoken == Wire.Protocol.HTTP_2 ? "streams" : "pipelined";
        var wire = new Wire(spoken, reused.orElse(usual.reuse()),
                fields.smallInteger(depth, Optional.of(spoken == usual.protocol() ? (long) usual.depth() : 1L), "10"),
                fields.flag("resumption", usual.resumption()),
                fields.has("accept") ? fields.textOrTexts("accept") : usual.accepted(),
                fields.flag("pack", usual.packs()),
                fields.smallInteger("redirects", Optional.of((long) usual.redirects()), "5"),
                fields.flag("cookies", usual.cookies()), fields.optional("socket").or(usual::socket),
                fields.share("trace", Optional.of(usual.traced()), "1%"));
        fields.passOver("streams", "pipelined");
        fields.warnOfUnknown();
        return wire;
    }

    private Tls tls(Fields fields) {
        String verify = fields.optional("verify").orElse("true");
        if (!verify.equals("true") && !verify.equals("false")) {
            fields.error("verify", "is \"" + verify + "\"", "Use true or false.");
        }
        var tls = new Tls(!verify.equals("false"), pem(fields, "authority"), pem(fields, "certificate"),
                pem(fields, "key"));
        fields.warnOfUnknown();
        return tls;
    }

    private Optional<String> pem(Fields fields, String name) {
        Optional<String> file = fields.optional(name);
        file.filter(one -> !java.nio.file.Files.isRegularFile(folder.resolve(one))).ifPresent(one -> fields.error(name,
                "is \"" + one + "\", and there is no such file seen from " + folder, "Correct the name."));
        return file;
    }

    /** The address, and by it or by the candidate's word the protocol. */
    private static Address address(Fields fields) {
        String text = fields.text("address", "http://127.0.0.1:8080");
        Optional<String> wanted = fields.optional("protocol");
        if (wanted.isPresent()) {
            Optional<Protocol> protocol = Protocols.byId(wanted.get());
            if (protocol.isEmpty()) {
                fields.error("protocol", "is \"" + wanted.get() + "\"", "Use one of: " + Protocols.known() + ".");
                return new Address("127.0.0.1", 80, "");
            }
            return protocol.get().address(text).orElseGet(() -> {
                fields.error("address", "is \"" + text + "\", which is none of " + protocol.get().words(),
                        "Write it like this: address: " + protocol.get().exampleAddress());
                return new Address("127.0.0.1", 80, "");
            });
        }
        Optional<Address> found = Protocols.all().stream().filter(Protocol::isFoundByAddress)
                .flatMap(one -> one.address(text).stream()).findFirst();
        if (found.isEmpty() && !text.isEmpty()) {
            fields.error("address", "is \"" + text + "\"", "Write it like this: address: "
                    + Protocols.all().stream().map(Protocol::exampleAddress).collect(Collectors.joining(", or ")));
        }
        return found.orElse(new Address("127.0.0.1", 80, ""));
    }

    private Launch launch(Fields fields) {
        var launch = new Launch(fields.texts("command"), fields.optional("folder").orElse("."),
                fields.optionalGroup("environment").map(Fields::allTexts).orElse(java.util.Map.of()),
                fields.optional("processors"),
                fields.duration("readyWithin", Optional.of(Duration.ofSeconds(30)), "30s"),
                fields.duration("stopWithin", Optional.of(Duration.ofSeconds(5)), "5s"));
        if (launch.processors().isPresent() && !Launch.isProcessors(launch.processors().get())) {
            fields.error("processors", "is \"" + launch.processors().get() + "\"", "Write it like this: \"0-3,6\"");
        }
        fields.warnOfUnknown();
        return launch;
    }

    private Workload workload(Fields fields) {
        var reader = new WorkloadReader(folder);
        Workload workload = reader.read(fields);
        defaults = reader.defaults();
        fields.warnOfUnknown();
        return workload;
    }

    private static Agreement agreement(Fields fields) {
        List<String> headers = fields.texts("ignoreHeaders");
        List<String> json = fields.texts("ignoreJson");
        double tolerance = fields.share("tolerance", Optional.of(0.0), "0.1%");
        String arrays = fields.optional("arrays").orElse("in-order");
        if (!arrays.equals("in-order") && !arrays.equals("as-sets")) {
            fields.error("arrays", "is \"" + arrays + "\"", "Use in-order or as-sets.");
        }
        if (!(tolerance >= 0 && tolerance < 1)) {
            fields.error("tolerance", "is " + tolerance, "Use a share such as 0.1%.");
        }
        List<Agreement.Accepted> accepted = fields.groups("accepted").stream().map(group -> {
            var one = new Agreement.Accepted(group.text("call", "reserve"), group.text("where", "$.id"),
                    group.text("reason", "each database counts by itself"));
            group.warnOfUnknown();
            return one;
        }).toList();
        fields.warnOfUnknown();
        return new Agreement(headers, json, tolerance, arrays.equals("as-sets"), accepted);
    }

    private static boolean together(Fields fields) {
        String order = fields.optional("order").orElse("in-turn");
        if (!order.equals("in-turn") && !order.equals("together")) {
            fields.error("order", "is \"" + order + "\"",
                    "Use in-turn, or together for candidates on separate hosts.");
        }
        return order.equals("together");
    }

    private static Optional<Pacing> pacing(Fields fields) {
        Optional<String> word = fields.optional("pacing");
        Optional<Pacing> pacing = word.flatMap(Pacing::byId);
        if (word.isPresent() && pacing.isEmpty()) {
            fields.error("pacing", "is \"" + word.get() + "\"",
                    "Use " + Pacing.ids() + ", or leave it out for what fits the host.");
        }
        return pacing;
    }

    /** {@code adaptive: {atMost: 30}}: rounds are added until all deciding pairs are settled. */
    private static OptionalInt adaptive(Fields fields) {
        return fields.optionalGroup("adaptive").map(group -> {
            int most = group.smallInteger("atMost", Optional.empty(), "30");
            group.warnOfUnknown();
            return OptionalInt.of(most);
        }).orElse(OptionalInt.empty());
    }

    private Plan plan(Optional<Fields> group) {
        return group.map(fields -> {
            var plan = new Plan(fields.smallInteger("rounds", Optional.of(7L), "7"),
                    fields.integer("seed", Optional.of(1L), "1"),
                    fields.duration("pause", Optional.of(Duration.ofSeconds(1)), "1s"),
                    fields.duration("idle", Optional.of(Plan.USUAL_IDLE), "5s"), together(fields),
                    adaptive(fields), pacing(fields));
            fields.warnOfUnknown();
            return plan;
        }).orElse(new Plan(7, 1, Duration.ofSeconds(1), Plan.USUAL_IDLE, false));
    }
}
