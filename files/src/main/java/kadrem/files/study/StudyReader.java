package kadrem.files.study;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.TreeMap;
import java.util.stream.Collectors;

import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Agreement;
import kadrem.core.study.Annotation;
import kadrem.core.study.Candidate;
import kadrem.core.study.Entrance;
import kadrem.core.study.FigureFile;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Judgement;
import kadrem.core.study.Launch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Pacing;
import kadrem.core.study.Plan;
import kadrem.core.study.Protocol;
import kadrem.core.study.Protocols;
import kadrem.core.study.Question;
import kadrem.core.study.SignIn;
import kadrem.core.study.Study;
import kadrem.core.study.Tls;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;

/** From the fields of a study file to a {@link Study}. */
final class StudyReader {
    /** In the place of an address that cannot be read, whose problem is told. */
    private static final Address NOWHERE = new Address("127.0.0.1", 80, "");

    private final Path folder;
    private final FileContents files;
    private CallDefaults defaults = CallDefaults.NONE;

    StudyReader(Path folder, FileContents files) {
        this.folder = folder;
        this.files = files;
    }

    /** A study whose candidates are put under a load. */
    MeasuredStudy measured(Fields fields) {
        List<Candidate> candidates = candidates(fields);
        Question question = QuestionReader.read(fields.group("question"), candidates);
        Workload workload = workload(fields.group("workload"));
        LoadProfile load = LoadReader.read(fields.group("load"), workload, files);
        return new MeasuredStudy(fields.text("name"), question, candidates, workload, load, plan(fields.group("plan")),
                fields.optionalGroup("rehearsal").map(StudyReader::agreement).orElse(Agreement.EXACT),
                fields.texts("intendedDifferences"), judgement(fields),
                fields.groups("annotations").stream().map(StudyReader::annotation).toList());
    }

    /** A study whose figures were measured elsewhere. */
    FigureStudy ofFigures(Fields fields) {
        List<FigureFile> figures = fields.groups("figures").stream().flatMap(group -> figures(group).stream()).toList();
        List<Candidate> candidates = fields.groups("candidates").stream().map(StudyReader::named).toList();
        return new FigureStudy(fields.text("name"), QuestionReader.read(fields.group("question"), candidates),
                candidates,
                plan(fields.group("plan")), judgement(fields), figures);
    }

    private static Judgement judgement(Fields fields) {
        return fields.optionalGroup("soundness").map(LoadReader::judgement).orElse(Judgement.USUAL);
    }

    private static Annotation annotation(Fields fields) {
        return new Annotation(fields.text("run"), fields.count("second"), fields.text("text"));
    }

    /** A candidate that was measured elsewhere: it has a name and no address. */
    private static Candidate named(Fields fields) {
        String id = fields.text("id");
        return new Candidate(id, fields.optional("name").orElse(id), new Address("127.0.0.1", 1, ""), Optional.empty(),
                "/", Optional.empty(), Optional.empty());
    }

    private static Optional<FigureFile> figures(Fields fields) {
        String unit = fields.text("unit");
        Optional<Metric> metric = fields.choice("metric", Metric::byId);
        Optional<Double> factor = metric.flatMap(one -> Optional.ofNullable(units(one).get(unit)));
        if (metric.isPresent() && factor.isEmpty()) {
            fields.error("unit", "is \"" + unit + "\"",
                    "Use one of: " + String.join(", ", units(metric.get()).keySet()) + ".");
        }
        return factor.map(one -> new FigureFile(fields.text("file"), metric.orElseThrow(), one));
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

    // ---- candidates -------------------------------------------------------------------------------------------------

    private List<Candidate> candidates(Fields fields) {
        SignIn common = fields.optionalGroup("signIn").map(StudyReader::signIn).orElse(new SignIn.None());
        Wire wire = fields.optionalGroup("wire").map(group -> wire(group, Wire.USUAL)).orElse(Wire.USUAL);
        return fields.groups("candidates").stream().map(group -> candidate(group, common, wire)).toList();
    }

    private Candidate candidate(Fields fields, SignIn common, Wire usual) {
        String id = fields.text("id");
        Entrance own = entrance(fields, address(fields), new Access(common, Tls.USUAL, usual));
        var elsewhere = new LinkedHashMap<String, Entrance>();
        for (Fields other : fields.groups("elsewhere")) {
            Address address = other.has("address") ? address(other) : own.address();
            Access access = own.access();
            if (elsewhere.put(other.text("crowd"), entrance(other, address, access)) != null) {
                other.error("crowd", "is named a second time", "Remove one of the two.");
            }
        }
        return new Candidate(id, fields.optional("name").orElse(id), own.address(),
                fields.optionalGroup("launch").map(StudyReader::launch), fields.text("ready"),
                fields.optionalGroup("reset").map(StudyReader::control), fields.optional("version"),
                own.access(), WatchReader.read(fields.groups("watch")),
                fields.optionalGroup("data").map(StudyReader::control), elsewhere);
    }

    /** How a candidate is reached at an address; what the group does not say is as {@code usual}. */
    private Entrance entrance(Fields fields, Address address, Access usual) {
        SignIn signIn = fields.optionalGroup("signIn").map(StudyReader::signIn).orElse(usual.signIn());
        Tls tls = fields.optionalGroup("tls").map(this::tls).orElse(usual.tls());
        Wire wire = fields.optionalGroup("wire").map(group -> wire(group, usual.wire())).orElse(usual.wire());
        Map<String, List<String>> settings = Protocols.byId(address.protocol())
                .filter(protocol -> !protocol.isCallsOwnForm())
                .flatMap(protocol -> fields.optionalGroup(protocol.id())
                        .map(group -> group.known(protocol.settings())))
                .orElse(usual.settings());
        return new Entrance(address, new Access(signIn, tls, wire, settings));
    }

    /** A command, SQL, or a call with a usual method. */
    private static Candidate.Reset control(Fields fields) {
        if (fields.has("command")) {
            return new Candidate.ControlCommand(fields.texts("command"));
        }
        if (fields.has("ask")) {
            return new Candidate.ControlAsk(fields.text("ask"));
        }
        if (fields.has("sql")) {
            return new Candidate.ControlSql(fields.text("database"), fields.text("user"), fields.text("password"),
                    fields.texts("sql"));
        }
        return new Candidate.ControlCall(fields.text("method"), fields.text("path"));
    }

    private static SignIn signIn(Fields fields) {
        return fields.optionalGroup("basic")
                .<SignIn>map(group -> new SignIn.Basic(group.text("user"), group.text("password")))
                .or(() -> fields.optionalGroup("digest")
                        .map(group -> new SignIn.Digest(group.text("user"), group.text("password"))))
                .or(() -> fields.optional("bearer").map(SignIn.Bearer::new))
                .or(() -> fields.optionalGroup("oauth").map(group -> new SignIn.ClientCredentials(
                        group.text("tokenAddress"), group.text("client"), group.text("secret"), group.text("scope"))))
                .or(() -> fields.optionalGroup("header")
                        .map(group -> new SignIn.Key(group.text("name"), group.text("value"))))
                .orElse(new SignIn.None());
    }

    /** How calls travel; what the group does not say is as {@code usual}. */
    private static Wire wire(Fields fields, Wire usual) {
        Wire.Protocol spoken = fields.has("protocol")
                ? fields.choice("protocol", Wire.Protocol::byId).orElse(usual.protocol())
                : usual.protocol();
        String depth = spoken == Wire.Protocol.HTTP_2 ? "streams" : "pipelined";
        return new Wire(spoken,
                fields.has("connections")
                        ? fields.choice("connections", Wire.Reuse::byId).orElse(usual.reuse())
                        : usual.reuse(),
                fields.count(depth, spoken == usual.protocol() ? usual.depth() : 1),
                fields.flag("resumption", usual.resumption()),
                fields.has("accept") ? fields.texts("accept") : usual.accepted(), fields.flag("pack", usual.packs()),
                fields.count("redirects", usual.redirects()), fields.flag("cookies", usual.cookies()),
                fields.optional("socket").or(usual::socket), fields.share("trace", usual.traced()));
    }

    private Tls tls(Fields fields) {
        return new Tls(fields.flag("verify"), pem(fields, "authority"), pem(fields, "certificate"), pem(fields, "key"));
    }

    private Optional<String> pem(Fields fields, String name) {
        Optional<String> file = fields.optional(name);
        file.filter(one -> !Files.isRegularFile(folder.resolve(one))).ifPresent(one -> fields.error(name,
                "is \"" + one + "\", and there is no such file seen from " + folder, "Correct the name."));
        return file;
    }

    /** The address, and by it or by the candidate's word the protocol. */
    private static Address address(Fields fields) {
        String text = fields.text("address");
        if (fields.has("protocol")) {
            Optional<Protocol> protocol = fields.choice("protocol", Protocols::byId);
            return protocol.map(one -> one.address(text).orElseGet(() -> {
                fields.error("address", "is \"" + text + "\", which is none of " + one.words(),
                        "Write it like this: address: " + one.exampleAddress());
                return NOWHERE;
            })).orElse(NOWHERE);
        }
        Optional<Address> found = Protocols.all().stream().filter(Protocol::isFoundByAddress)
                .flatMap(one -> one.address(text).stream()).findFirst();
        if (found.isEmpty() && !text.isEmpty()) {
            fields.error("address", "is \"" + text + "\"", "Write it like this: address: "
                    + Protocols.all().stream().map(Protocol::exampleAddress).collect(Collectors.joining(", or ")));
        }
        return found.orElse(NOWHERE);
    }

    private static Launch launch(Fields fields) {
        var launch = new Launch(fields.texts("command"), fields.text("folder"), fields.pairs("environment"),
                fields.optional("processors"), fields.time("readyWithin"), fields.time("stopWithin"));
        if (launch.processors().isPresent() && !Launch.isProcessors(launch.processors().get())) {
            fields.error("processors", "is \"" + launch.processors().get() + "\"", "Write it like this: \"0-3,6\"");
        }
        return launch;
    }

    // ---- the rest ---------------------------------------------------------------------------------------------------

    private Workload workload(Fields fields) {
        var reader = new WorkloadReader(files);
        Workload workload = reader.read(fields);
        defaults = reader.defaults();
        return workload;
    }

    private static Agreement agreement(Fields fields) {
        return new Agreement(fields.texts("ignoreHeaders"), fields.texts("ignoreJson"), fields.share("tolerance"),
                fields.text("arrays").equals("as-sets"),
                fields.groups("accepted").stream().map(group -> new Agreement.Accepted(group.text("call"),
                        group.text("where"), group.text("reason"))).toList());
    }

    private static Plan plan(Fields fields) {
        OptionalInt adaptive = fields.optionalGroup("adaptive").map(group -> OptionalInt.of(group.count("atMost")))
                .orElse(OptionalInt.empty());
        return new Plan(fields.count("rounds"), fields.whole("seed"), fields.time("pause"), fields.time("idle"),
                fields.text("order").equals("together"), adaptive, fields.choice("pacing", Pacing::byId));
    }
}
