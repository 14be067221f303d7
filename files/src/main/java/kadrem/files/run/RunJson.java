package kadrem.files.run;

import java.io.IOException;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.measure.GeneratorFigures;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.LongTurns;
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
        run.figures().ifPresent(figures -> root.set("figures", FiguresJson.write(figures)));
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
        node.set("gcPauseNanos", FiguresJson.latency(own.gcPauses()));
        node.put("pacing", own.pacing());
        ArrayNode turns = node.putArray("longTurns");
        own.longTurns().forEach(one -> turns.addObject().put("cause", one.cause().id()).put("count", one.count())
                .put("totalNanos", one.totalNanos()).put("longestNanos", one.longestNanos()));
        return node;
    }

    private static ObjectNode stream(StreamDigest stream) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("model", stream.model().name().toLowerCase(Locale.ROOT));
        ArrayNode parts = node.putArray("parts");
        stream.parts().forEach(part -> parts.addObject().put("length", part.length()).put("fnv1a64",
                String.format("%016x", part.hash())));
        if (!stream.crowds().isEmpty()) {
            ArrayNode crowds = node.putArray("crowds");
            stream.crowds().forEach(crowd -> crowds.add(stream(crowd)));
        }
        return node;
    }

    private static ObjectNode texts(Map<String, String> texts) {
        ObjectNode node = MAPPER.createObjectNode();
        texts.forEach(node::put);
        return node;
    }

    private static ArrayNode levels(List<LevelResult> levels) {
        ArrayNode array = MAPPER.createArrayNode();
        for (LevelResult level : levels) {
            ObjectNode node = array.addObject().put("level", level.level())
                    .put("fromSecond", level.fromSecond()).put("step", level.step().id())
                    .put("verdict", level.verdict());
            level.figures().ifPresent(figures -> node.set("figures", FiguresJson.write(figures)));
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
        for (Soundness.Finding finding : findings) {
            ObjectNode node = array.addObject().put("rule", finding.rule()).put("ok", finding.ok())
                    .put("figure", finding.figure()).put("limit", finding.limit()).put("sentence", finding.sentence())
                    .put("setsAside", finding.setsAside());
            if (!finding.crowd().isEmpty()) {
                node.put("crowd", finding.crowd());
            }
        }
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
                    root.has("figures") ? Optional.of(FiguresJson.read(root.path("figures"))) : Optional.empty(),
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
        var crowds = new ArrayList<StreamDigest>();
        node.path("crowds").forEach(crowd -> crowds.add(stream(crowd)));
        return new StreamDigest(switch (node.path("model").asText()) {
            case "open" -> StreamDigest.Model.OPEN;
            case "crowds" -> StreamDigest.Model.CROWDS;
            default -> StreamDigest.Model.CLOSED;
        }, parts, crowds);
    }

    private static Optional<GeneratorFigures> generator(JsonNode node) {
        return node.isObject()
                ? Optional.of(
                        new GeneratorFigures(node.path("lanes").asInt(), FiguresJson.optional(node.path("cpuShare")),
                                FiguresJson.optional(node.path("workShare")),
                                FiguresJson.latency(node.path("gcPauseNanos")), node.path("pacing").asText(""),
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
                level.has("figures") ? Optional.of(FiguresJson.read(level.path("figures"))) : Optional.empty(),
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
            boolean sets = finding.path("setsAside").asBoolean(read.setsAside());
            findings.add(new Soundness.Finding(read.rule(), read.ok(), read.figure(), read.limit(), read.sentence(),
                    sets, finding.path("crowd").asText("")));
        });
        return List.copyOf(findings);
    }
}
