package kadrem.files.run;

import java.io.IOException;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.measure.Distribution;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.GeneratorFigures;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.LongTurns;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.RunState;
import kadrem.core.measure.Soundness;
import kadrem.core.measure.TurnCause;
import kadrem.core.measure.WatchedSource;
import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Seal;

/**
 * {@code run.json}: a run's record as JSON and back; one file, since writing and reading a field stand side by side. Fields that Kadrem
 * does not know survive.
 */
public final class RunJson {
    private static final int FORMAT = 1;
    private static final ObjectMapper MAPPER = new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

    private RunJson() {
    }

    /** The record as JSON; {@code before} is what the file held so far, or empty. */
    static byte[] write(RunRecord run, Optional<byte[]> before) throws IOException {
        ObjectNode root = before.isPresent() && MAPPER.readTree(before.get()) instanceof ObjectNode known
                ? known
                : MAPPER.createObjectNode();
        root.put("kadremRun", FORMAT);
        root.put("id", run.id()).put("round", run.round()).put("candidate", run.candidate())
                .put("position", run.identity().position());
        root.put("outcome", run.outcome().id()).put("reason", run.reason());
        root.put("started", run.started().toString());
        if (run.state() instanceof RunState.Ended ended) {
            root.put("ended", ended.at().toString());
        }
        root.put("streamSeed", Long.toString(run.identity().streamSeed())).put("studyDigest", run.studyDigest());
        run.stream().ifPresent(stream -> root.set("stream", stream(stream)));
        root.set("fingerprint", texts(run.fingerprint()));
        root.set("machine", texts(run.machine()));
        run.identity().seal().ifPresent(seal -> root.set("sealed", texts(seal.facts())));
        root.putObject("processes").put("kadremPid", run.processes().kadremPid())
                .put("kadremStarted", run.processes().kadremStarted())
                .put("candidatePid", run.processes().candidatePid())
                .put("candidateStarted", run.processes().candidateStarted());
        ArrayNode output = root.putArray("lastOutput");
        run.lastOutput().forEach(output::add);
        run.figures().ifPresent(figures -> root.set("figures", figures(figures)));
        root.set("soundness", soundness(run.soundness()));
        run.generator().ifPresent(own -> root.set("generator", generator(own)));
        if (!run.levels().isEmpty()) {
            root.set("levels", levels(run.levels()));
        }
        if (!run.watch().isEmpty()) {
            root.set("watch", watch(run.watch()));
        }
        return MAPPER.writeValueAsBytes(root);
    }

    /** How the load was made, and what held it up; times in nanoseconds. */
    static ObjectNode generator(GeneratorFigures own) {
        ObjectNode node = MAPPER.createObjectNode().put("lanes", own.lanes());
        own.cpuShare().ifPresent(share -> node.put("cpuShare", share));
        own.workShare().ifPresent(share -> node.put("workShare", share));
        node.set("gcPauseNanos", latency(own.gcPauses()));
        node.put("pacing", own.pacing());
        ArrayNode turns = node.putArray("longTurns");
        own.longTurns().forEach(one -> turns.addObject().put("cause", one.cause().id()).put("count", one.count())
                .put("totalNanos", one.totalNanos()).put("longestNanos", one.longestNanos()));
        return node;
    }

    private static ObjectNode stream(StreamDigest stream) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("model", stream.model() == StreamDigest.Model.OPEN ? "open" : "closed");
        ArrayNode parts = node.putArray("parts");
        stream.parts().forEach(part -> parts.addObject().put("length", part.length()).put("fnv1a64",
                String.format("%016x", part.hash())));
        return node;
    }

    private static ObjectNode texts(Map<String, String> texts) {
        ObjectNode node = MAPPER.createObjectNode();
        texts.forEach(node::put);
        return node;
    }

    /** The figures of a run's measured part; latencies in nanoseconds. */
    public static ObjectNode figures(RunFigures figures) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("sent", figures.sent()).put("good", figures.good());
        node.set("failed", failed(figures.failed()));
        node.put("unsent", figures.unsent()).put("seconds", figures.seconds()).put("goodInTime", figures.goodInTime())
                .put("throughput", figures.throughput()).put("bytesOut", figures.bytesOut())
                .put("bytesIn", figures.bytesIn());
        node.set("responseTimeNanos", latency(figures.response()));
        node.set("serviceTimeNanos", latency(figures.service()));
        node.set("responseRawNanos", latency(figures.raw()));
        if (figures.distribution().isKnown()) {
            ObjectNode distribution = node.putObject("responseDistribution");
            distribution.set("upToNanos", MAPPER.valueToTree(figures.distribution().borders()));
            distribution.set("counts", MAPPER.valueToTree(figures.distribution().counts()));
        }
        node.set("lateNanos", latency(figures.late()));
        figures.cpuMillis().ifPresent(cpu -> node.put("cpuMillis", cpu));
        figures.peakMemory().ifPresent(memory -> node.put("peakMemoryBytes", memory));
        node.set("connectNanos", latency(figures.connects().connect()));
        node.set("handshakeNanos", latency(figures.connects().handshake()));
        ArrayNode calls = node.putArray("calls");
        for (RunFigures.CallFigures call : figures.calls()) {
            ObjectNode entry = calls.addObject().put("name", call.name()).put("sent", call.sent()).put("good",
                    call.good());
            entry.set("failed", failed(call.failed()));
            entry.set("responseTimeNanos", latency(call.response()));
            entry.set("serviceTimeNanos", latency(call.service()));
        }
        return node;
    }

    private static ObjectNode failed(Map<FailureKind, Long> failed) {
        ObjectNode node = MAPPER.createObjectNode();
        for (FailureKind kind : FailureKind.values()) {
            node.put(kind.id(), failed.getOrDefault(kind, 0L));
        }
        return node;
    }

    private static ObjectNode latency(LatencySummary latency) {
        ObjectNode node = MAPPER.createObjectNode().put("count", latency.count()).put("mean", latency.mean());
        reached(node, "p50", latency.p50());
        reached(node, "p90", latency.p90());
        reached(node, "p95", latency.p95());
        reached(node, "p99", latency.p99());
        reached(node, "p999", latency.p999());
        node.put("max", latency.max());
        return latency.lacking() == 0 ? node : node.put("lacking", latency.lacking());
    }

    /** A percentile that was not reached is null. */
    private static void reached(ObjectNode node, String name, long nanos) {
        if (nanos == LatencySummary.NEVER) {
            node.putNull(name);
        } else {
            node.put(name, nanos);
        }
    }

    private static ArrayNode levels(List<LevelResult> levels) {
        ArrayNode array = MAPPER.createArrayNode();
        for (LevelResult level : levels) {
            ObjectNode node = array.addObject().put("level", level.level())
                    .put("fromSecond", level.fromSecond()).put("step", level.step().id())
                    .put("verdict", level.verdict());
            level.figures().ifPresent(figures -> node.set("figures", figures(figures)));
            node.set("soundness", soundness(level.soundness()));
        }
        return array;
    }

    private static ArrayNode watch(List<WatchedSource> sources) {
        ArrayNode array = MAPPER.createArrayNode();
        for (WatchedSource source : sources) {
            ObjectNode node = array.addObject().put("source", source.name()).put("kind", source.kind())
                    .put("where", source.where()).put("readings", source.readings())
                    .put("cpuMillis", source.cpuMillis()).put("slowestMillis", source.slowestMillis());
            source.clockOffset().ifPresent(offset -> node.put("clockOffsetSeconds", offset));
            source.clockError().ifPresent(error -> node.put("clockErrorSeconds", error));
            ArrayNode troubles = node.putArray("troubles");
            source.troubles().forEach(trouble -> troubles.addObject().put("at", trouble.at()).put("reason",
                    trouble.reason()));
        }
        return array;
    }

    private static List<WatchedSource> watched(JsonNode node) {
        var sources = new ArrayList<WatchedSource>();
        for (JsonNode one : node) {
            var troubles = new ArrayList<WatchedSource.Trouble>();
            one.path("troubles").forEach(trouble -> troubles.add(new WatchedSource.Trouble(
                    trouble.path("at").asDouble(), trouble.path("reason").asText())));
            sources.add(new WatchedSource(one.path("source").asText(), one.path("kind").asText(),
                    one.path("where").asText(), one.path("readings").asInt(), one.path("cpuMillis").asDouble(),
                    one.path("slowestMillis").asDouble(), number(one.path("clockOffsetSeconds")),
                    number(one.path("clockErrorSeconds")), troubles));
        }
        return List.copyOf(sources);
    }

    private static OptionalDouble number(JsonNode node) {
        return node.isNumber() ? OptionalDouble.of(node.asDouble()) : OptionalDouble.empty();
    }

    /** The findings of the soundness rules. */
    public static ArrayNode soundness(List<Soundness.Finding> findings) {
        ArrayNode array = MAPPER.createArrayNode();
        findings.forEach(finding -> array.addObject().put("rule", finding.rule()).put("ok", finding.ok())
                .put("figure", finding.figure()).put("limit", finding.limit()).put("sentence", finding.sentence())
                .put("setsAside", finding.setsAside()));
        return array;
    }

    /**
     * The record that {@code json} holds.
     *
     * @throws IOException if it is not JSON, or lacks what a run must have; the message says what
     */
    static RunRecord read(byte[] json) throws IOException {
        JsonNode root;
        try {
            root = MAPPER.readTree(json);
        } catch (JsonProcessingException cause) {
            throw new IOException("not valid JSON: " + cause.getOriginalMessage(), cause);
        }
        if (root.path("kadremRun").asInt() != FORMAT) {
            throw new IOException("the field kadremRun is not " + FORMAT);
        }
        try {
            JsonNode processes = root.path("processes");
            // they name the run's folder, which must be one of the study's
            var identity = new RunIdentity(word(root, "id"), root.path("round").asInt(), word(root, "candidate"),
                    root.path("position").asInt(), Long.parseLong(text(root, "streamSeed")), text(root, "studyDigest"),
                    Instant.parse(text(root, "started")), texts(root.path("machine")),
                    root.has("sealed") ? Optional.of(new Seal(texts(root.path("sealed")))) : Optional.empty());
            return new RunRecord(identity, state(root, identity.started()), list(root.path("lastOutput")),
                    texts(root.path("fingerprint")),
                    new RunRecord.Processes(processes.path("kadremPid").asLong(),
                            processes.path("kadremStarted").asLong(), processes.path("candidatePid").asLong(),
                            processes.path("candidateStarted").asLong()),
                    root.has("stream") ? Optional.of(stream(root.path("stream"))) : Optional.empty(),
                    root.has("figures") ? Optional.of(figures(root.path("figures"))) : Optional.empty(),
                    findings(root.path("soundness")), generator(root.path("generator")),
                    levelResults(root.path("levels")), watched(root.path("watch")));
        } catch (IllegalArgumentException | DateTimeParseException cause) {
            throw new IOException("a field does not hold what it should: " + cause.getMessage(), cause);
        }
    }

    private static RunState state(JsonNode root, Instant started) throws IOException {
        RunOutcome outcome = RunOutcome.byId(text(root, "outcome"));
        return outcome == RunOutcome.RUNNING
                ? new RunState.UnderWay()
                : new RunState.Ended(outcome, root.path("reason").asText(""),
                        root.has("ended") ? Instant.parse(text(root, "ended")) : started);
    }

    private static String text(JsonNode node, String name) throws IOException {
        if (!node.path(name).isTextual()) {
            throw new IOException("the field " + name + " is missing");
        }
        return node.path(name).asText();
    }

    /** A text that can be part of a folder's name, and of no other path. */
    private static String word(JsonNode node, String name) throws IOException {
        String text = text(node, name);
        if (!text.matches("[\\p{L}\\p{N}][\\p{L}\\p{N} ._+-]{0,99}")) {
            throw new IOException("the field " + name + " is no name of a run or a candidate");
        }
        return text;
    }

    private static List<String> list(JsonNode node) {
        var list = new ArrayList<String>();
        node.forEach(item -> list.add(item.asText()));
        return List.copyOf(list);
    }

    private static Map<String, String> texts(JsonNode node) {
        var texts = new LinkedHashMap<String, String>();
        node.properties().forEach(entry -> texts.put(entry.getKey(), entry.getValue().asText()));
        return texts;
    }

    private static StreamDigest stream(JsonNode node) {
        var parts = new ArrayList<StreamDigest.Part>();
        node.path("parts").forEach(part -> parts.add(new StreamDigest.Part(part.path("length").asLong(),
                Long.parseUnsignedLong(part.path("fnv1a64").asText(), 16))));
        return new StreamDigest(node.path("model").asText().equals("open")
                ? StreamDigest.Model.OPEN
                : StreamDigest.Model.CLOSED, parts);
    }

    private static RunFigures figures(JsonNode node) {
        var calls = new ArrayList<RunFigures.CallFigures>();
        node.path("calls")
                .forEach(call -> calls.add(new RunFigures.CallFigures(call.path("name").asText(),
                        call.path("sent").asLong(), call.path("good").asLong(), failed(call.path("failed")),
                        latency(call.path("responseTimeNanos")), latency(call.path("serviceTimeNanos")))));
        return new RunFigures(node.path("sent").asLong(), node.path("good").asLong(), failed(node.path("failed")),
                node.path("unsent").asLong(), node.path("seconds").asDouble(), node.path("goodInTime").asLong(),
                node.path("bytesOut").asLong(), node.path("bytesIn").asLong(), latency(node.path("responseTimeNanos")),
                latency(node.path("serviceTimeNanos")),
                latency(node.has("lateNanos") ? node.path("lateNanos") : node.path("lagNanos")),
                optional(node.path("cpuMillis")), optional(node.path("peakMemoryBytes")), List.copyOf(calls),
                new RunFigures.Connects(latency(node.path("connectNanos")), latency(node.path("handshakeNanos"))))
                .withRaw(latency(node.has("responseRawNanos")
                        ? node.path("responseRawNanos")
                        : node.path("responseTimeNanos")))
                .withDistribution(distribution(node.path("responseDistribution")));
    }

    private static Distribution distribution(JsonNode node) {
        return Distribution.of(numbers(node.path("upToNanos")), numbers(node.path("counts")));
    }

    private static long[] numbers(JsonNode array) {
        var numbers = new long[array.size()];
        for (int i = 0; i < numbers.length; i++) {
            numbers[i] = array.path(i).asLong();
        }
        return numbers;
    }

    private static OptionalDouble optional(JsonNode node) {
        return node.isNumber() ? OptionalDouble.of(node.asDouble()) : OptionalDouble.empty();
    }

    private static Map<FailureKind, Long> failed(JsonNode node) {
        var failed = new EnumMap<FailureKind, Long>(FailureKind.class);
        for (FailureKind kind : FailureKind.values()) {
            failed.put(kind, node.path(kind.id()).asLong());
        }
        return failed;
    }

    private static LatencySummary latency(JsonNode node) {
        return new LatencySummary(node.path("count").asLong(), node.path("mean").asDouble(), reached(node.path("p50")),
                reached(node.path("p90")), reached(node.path("p95")), reached(node.path("p99")),
                reached(node.path("p999")), node.path("max").asLong(), node.path("lacking").asLong());
    }

    private static long reached(JsonNode node) {
        return node.isNull() ? LatencySummary.NEVER : node.asLong();
    }

    private static Optional<GeneratorFigures> generator(JsonNode node) {
        return node.isObject()
                ? Optional.of(new GeneratorFigures(node.path("lanes").asInt(), optional(node.path("cpuShare")),
                        optional(node.path("workShare")),
                        latency(node.path("gcPauseNanos")), node.path("pacing").asText(""),
                        longTurns(node.path("longTurns"))))
                : Optional.empty();
    }

    private static List<LongTurns.Of> longTurns(JsonNode node) {
        var turns = new ArrayList<LongTurns.Of>();
        node.forEach(one -> TurnCause.byId(one.path("cause").asText())
                .ifPresent(cause -> turns.add(new LongTurns.Of(cause, one.path("count").asLong(),
                        one.path("totalNanos").asLong(), one.path("longestNanos").asLong()))));
        return List.copyOf(turns);
    }

    private static List<LevelResult> levelResults(JsonNode node) {
        var levels = new ArrayList<LevelResult>();
        node.forEach(level -> levels.add(new LevelResult(level.path("level").asDouble(),
                level.path("fromSecond").asInt(),
                level.has("figures") ? Optional.of(figures(level.path("figures"))) : Optional.empty(),
                findings(level.path("soundness")), LevelResult.Step.byId(level.path("step").asText()),
                level.path("verdict").asText())));
        return List.copyOf(levels);
    }

    private static List<Soundness.Finding> findings(JsonNode node) {
        var findings = new ArrayList<Soundness.Finding>();
        node.forEach(finding -> {
            var read = new Soundness.Finding(finding.path("rule").asText(), finding.path("ok").asBoolean(),
                    finding.path("figure").asDouble(), finding.path("limit").asDouble(),
                    finding.path("sentence").asText());
            findings.add(finding.has("setsAside") ? read.settingAside(finding.path("setsAside").asBoolean()) : read);
        });
        return List.copyOf(findings);
    }
}
